using System.Globalization;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.PayRuns;

/// <summary>Takes a run through its steps: gathering → locked → approved → issued → closed.</summary>
public sealed class PayRunSteps(BookDbContext db, BookCache cache, BookClock clock, AuditLog audit) : IUseCase
{
    /// <summary>Starts gathering a run.</summary>
    /// <param name="asOf">Entries that have cleared by this date are taken.</param>
    /// <exception cref="RefusedException">Another run is gathering, a later one is locked, or the date lies ahead.</exception>
    public int Gather(DateOnly asOf, string by) => Gather(asOf, null, null, by);

    /// <param name="payees">Whom it serves; null for everyone.</param>
    /// <param name="reference">What it is known by outside the book; null for its as-of date.</param>
    internal int Gather(DateOnly asOf, IReadOnlyList<string>? payees, string? reference, string by)
    {
        using var transaction = db.BeginUnlessBegun();
        if (asOf > clock.Today) throw new RefusedException($"{Date(asOf)} lies ahead: a run takes what has cleared by then, and more may still come.", "AsOf");
        if (db.PayRuns.FirstOrDefault(r => r.State == RunState.Gathering) is { } other)
        {
            throw new RefusedException($"The run as of {Date(other.AsOf)} is still gathering; lock it or discard it first.", "AsOf");
        }
        if (db.PayRuns.Where(r => r.AsOf > asOf).OrderByDescending(r => r.AsOf).FirstOrDefault() is { } later)
        {
            throw new RefusedException($"A run as of {Date(later.AsOf)} is locked already; a new one cannot reach back before it.", "AsOf");
        }
        var run = new PayRunRecord { AsOf = asOf, PreparedBy = by, Payees = payees?.ToList(), Reference = reference ?? FreeReference(asOf) };
        db.PayRuns.Add(run);
        db.SaveChanges();
        Note(by, "gather", run);
        transaction?.Commit();
        return run.Id;
    }

    private string FreeReference(DateOnly asOf)
    {
        var plain = asOf.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);
        var number = db.PayRuns.Count(r => r.AsOf == asOf);
        return number == 0 ? plain : $"{plain}-{number + 1}";
    }

    /// <summary>Gives up a run that has not been locked; nothing was taken by it.</summary>
    public void Discard(int id, string by)
    {
        var run = InState(id, RunState.Gathering, "Only a run that is still gathering can be discarded.");
        db.PayRuns.Remove(run);
        Note(by, "discard", run);
    }

    /// <summary>Fixes the figures and stamps every entry and adjustment the run takes: nothing joins any more.</summary>
    /// <exception cref="RefusedException">The run is not gathering, or orders are still being worked out again.</exception>
    public void Lock(int id, string by)
    {
        using var transaction = db.BeginUnlessBegun();
        var run = InState(id, RunState.Gathering, "This run is locked already.");
        if (db.Recalculations.Any(r => !r.IsFinished)) throw new RefusedException("Orders are being worked out again after a change; wait until that is done, then lock.");
        var book = cache.Get(db);
        var remittances = PayRunDesk.Gathered(db, book, run).ToArray();
        run.State = RunState.Locked;
        run.LockedBy = by;
        run.LockedAt = clock.GetUtcNow();
        run.Remittances = remittances.Select(ToRecord).ToList();
        var advances = db.Advances.AsNoTracking().ToDictionary(a => (a.PayeeId, a.Reference), a => a.Id);
        db.Recoupments.AddRange(remittances.SelectMany(r => r.RecoupedFrom.Select(from => new RecoupmentRecord
        {
            RunId = run.Id,
            AdvanceId = advances[(r.Payee.Value, from.AdvanceId)],
            Amount = from.Amount,
        })));
        db.SaveChanges();
        foreach (var taken in remittances.Where(r => r.TakesEntries).Select(r => r.Payee.Value).Chunk(500))
        {
            db.Entries.Where(e => e.RunId == null && e.ClearsOn <= run.AsOf && taken.Contains(e.Payee))
                .ExecuteUpdate(set => set.SetProperty(e => e.RunId, run.Id));
            // Exactly those entries make up these sums.
            db.OpenSums.Where(s => s.ClearsOn <= run.AsOf && taken.Contains(s.Payee)).ExecuteDelete();
            db.Adjustments.Where(a => a.RunId == null && a.On <= run.AsOf && taken.Contains(a.Payee))
                .ExecuteUpdate(set => set.SetProperty(a => a.RunId, run.Id));
        }
        Note(by, "lock", run);
        transaction?.Commit();
    }

    /// <exception cref="RefusedException">The run is not locked, or the approver prepared or locked it.</exception>
    public void Approve(int id, string by)
    {
        var run = InState(id, RunState.Locked, "Only a locked run can be approved.");
        if (run.PreparedBy == by || run.LockedBy == by)
        {
            throw new RefusedException($"{by} prepared this run, so somebody else must approve it.");
        }
        run.State = RunState.Approved;
        run.ApprovedBy = by;
        run.ApprovedAt = clock.GetUtcNow();
        Note(by, "approve", run);
    }

    /// <summary>Notes that a remittance was paid, outside, by hand.</summary>
    public void MarkPaid(int id, int remittanceId, DateOnly paidOn, string reference, string by)
    {
        var run = Payable(id);
        var remittance = run.Remittances.Single(r => r.Id == remittanceId);
        if (remittance.Paid == 0) throw new RefusedException("Nothing is paid to this payee in this run.");
        if (remittance.State == RemittanceState.Confirmed) throw new RefusedException($"This was marked paid on {Date(remittance.PaidOn!.Value)} already, with reference {remittance.Reference}.");
        if (paidOn > clock.Today) throw new RefusedException($"{Date(paidOn)} lies ahead; give the date the money left.", "PaidOn");
        if (paidOn < run.AsOf) throw new RefusedException($"{Date(paidOn)} is before the run's date, {Date(run.AsOf)}.", "PaidOn");
        if (string.IsNullOrWhiteSpace(reference)) throw new RefusedException("Give the reference under which the bank or wallet shows the payment.", "Reference");
        (remittance.State, remittance.PaidOn, remittance.Reference) = (RemittanceState.Confirmed, paidOn, reference.Trim());
        run.State = RunState.Issued;
        Note(by, $"mark {remittance.Payee} paid in", run);
    }

    /// <summary>Takes back a payment marked by mistake, until the run is closed.</summary>
    public void UndoPaid(int id, int remittanceId, string by)
    {
        var run = Payable(id);
        var remittance = run.Remittances.Single(r => r.Id == remittanceId);
        (remittance.State, remittance.PaidOn, remittance.Reference) = (RemittanceState.Ready, null, null);
        Note(by, $"undo the payment of {remittance.Payee} in", run);
    }

    public void Close(int id, string by)
    {
        var run = Payable(id);
        var open = run.Remittances.Count(r => r.Paid > 0 && r.State == RemittanceState.Ready);
        if (open > 0) throw new RefusedException($"{open} {(open == 1 ? "remittance is" : "remittances are")} not marked paid yet.");
        run.State = RunState.Closed;
        Note(by, "close", run);
    }

    private PayRunRecord Payable(int id)
    {
        var run = db.PayRuns.Include(r => r.Remittances).Single(r => r.Id == id);
        return run.State is RunState.Approved or RunState.Issued
            ? run
            : throw new RefusedException(run.State == RunState.Closed ? "This run is closed." : "A run must be approved before anything in it is paid.");
    }

    private PayRunRecord InState(int id, RunState state, string otherwise)
    {
        var run = db.PayRuns.SingleOrDefault(r => r.Id == id) ?? throw new RefusedException("There is no such run; it may have been discarded.");
        return run.State == state ? run : throw new RefusedException(otherwise);
    }

    private void Note(string by, string action, PayRunRecord run)
    {
        audit.Note(by, action, $"the run as of {Date(run.AsOf)}");
        db.SaveChanges();
    }

    private static RemittanceRecord ToRecord(Remittance remittance) => new()
    {
        Payee = remittance.Payee.Value,
        Currency = remittance.Currency.Code,
        Opening = remittance.Opening,
        Earned = remittance.Earned,
        Adjustments = remittance.Adjustments,
        Recouped = remittance.Recouped,
        Withheld = remittance.Withheld,
        TransferFee = remittance.TransferFee,
        Paid = remittance.Paid,
        Carried = remittance.Carried,
        Reason = remittance.Reason,
    };

    private static string Date(DateOnly date) => date.ToString("d MMM yyyy", CultureInfo.InvariantCulture);
}
