using System.Globalization;
using EvenSplit.Books.Balances;
using EvenSplit.Books.Model;
using EvenSplit.Books.Payouts;
using EvenSplit.Books.People;
using EvenSplit.Books.Posting;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.PayRuns;

/// <summary>Takes a run from gathering over locked to approved, and closes it when everything in it is paid.</summary>
public sealed class PayRunSteps(BookDbContext db, BookCache cache, BookClock clock, RefundRates refunds, Destinations destinations, Invoices invoices, OwedAgain owed, PaymentDoubts doubts, FourEyes fourEyes, AuditLog audit) : IUseCase
{
    /// <summary>Starts gathering a run for everyone.</summary>
    /// <param name="asOf">Entries that have cleared by this date are taken.</param>
    /// <exception cref="RefusedException">Another run is gathering, a later one is locked, or the date lies ahead.</exception>
    public int Gather(DateOnly asOf, string by) => Gather(asOf, null, null, by);

    /// <param name="payees">Whom it serves; null for everyone.</param>
    public int Gather(DateOnly asOf, IReadOnlyList<string>? payees, string by) => Gather(asOf, payees, null, by);

    /// <param name="reference">What it is known by outside the book; null for its as-of date.</param>
    internal int Gather(DateOnly asOf, IReadOnlyList<string>? payees, string? reference, string by)
    {
        using var transaction = db.BeginUnlessBegun();
        if (asOf > clock.Today) throw new RefusedException($"{asOf.InWords()} lies ahead: a run takes what has cleared by then, and more may still come.", "AsOf");
        cache.Get(db).DemandOpen(asOf, "AsOf");
        if (db.PayRuns.FirstOrDefault(r => r.State == RunState.Gathering) is { } other)
        {
            throw new RefusedException($"The run as of {other.AsOf.InWords()} is still gathering; lock it or discard it first.", "AsOf");
        }
        if (Later(asOf, payees) is { } later)
        {
            throw new RefusedException($"A run as of {later.AsOf.InWords()} is locked already; a new one cannot reach back before it.", "AsOf");
        }
        var run = new PayRunRecord { AsOf = asOf, PreparedBy = by, Payees = payees?.ToList(), Reference = reference ?? FreeReference(asOf) };
        db.PayRuns.Add(run);
        db.SaveChanges();
        Note(by, "gather", run);
        transaction?.Commit();
        return run.Id;
    }

    /// <summary>A run of a later date that serves any of the same payees: what it carried is not to be overtaken.</summary>
    private PayRunRecord? Later(DateOnly asOf, IReadOnlyList<string>? payees, int? but = null) => db.PayRuns.AsNoTracking().Where(r => r.AsOf > asOf && r.Id != but)
        .OrderByDescending(r => r.AsOf).AsEnumerable().FirstOrDefault(r => payees is null || r.Payees is null || r.Payees.Intersect(payees).Any());

    private string FreeReference(DateOnly asOf)
    {
        var plain = asOf.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);
        for (var number = 1; ; number++)
        {
            var reference = number == 1 ? plain : $"{plain}-{number}";
            if (!db.PayRuns.Any(r => r.Reference == reference)) return reference;
        }
    }

    /// <summary>Gives up a run that has not been locked; nothing was taken by it.</summary>
    public void Discard(int id, string by)
    {
        var run = InState(id, RunState.Gathering, "Only a run that is still gathering can be discarded.");
        db.PayRuns.Remove(run);
        Note(by, "discard", run);
    }

    /// <summary>
    /// Fixes the figures, the rates, and how and where each payee is paid, and takes every entry and adjustment that is in it: nothing joins any more.
    /// </summary>
    /// <exception cref="RefusedException">The run is not gathering, or orders are still being worked out again.</exception>
    public void Lock(int id, string by)
    {
        using var transaction = db.BeginUnlessBegun();
        var run = InState(id, RunState.Gathering, "This run is locked already.");
        cache.Get(db).DemandOpen(run.AsOf);
        if (db.Recalculations.Any(r => !r.IsFinished)) throw new RefusedException("Orders are being worked out again after a change; wait until that is done, then lock.");
        var book = cache.Get(db);
        var standings = Standings.Of(db, book, run.AsOf, run.Payees);
        var remittances = standings.Select(s => PayRun.WorkOut(book.Rules.Rates, run.AsOf, s)).ToArray();
        var goes = destinations.On(clock.Today);
        var marks = RunMarks.Of(db, refunds.Over(Period.Of(run.AsOf)), goes, run.AsOf, remittances);
        (run.State, run.LockedBy, run.LockedAt) = (RunState.Locked, by, clock.GetUtcNow());
        run.Remittances = remittances.Select(r => ToRecord(r, goes[r.Payee.Value])).ToList();
        invoices.Note(run);
        var advances = db.Advances.AsNoTracking().ToDictionary(a => (a.PayeeId, a.Reference), a => a.Id);
        db.Recoupments.AddRange(remittances.SelectMany(r => r.RecoupedFrom.Select(from => new RecoupmentRecord
        {
            RunId = run.Id,
            AdvanceId = advances[(r.Payee.Value, from.AdvanceId)],
            Amount = from.Amount,
        })));
        foreach (var mark in marks) mark.RunId = run.Id;
        db.RunMarks.AddRange(marks);
        db.RunRates.AddRange(Rates(book, run, standings));
        db.SaveChanges();
        var taken = remittances.Where(r => r.TakesEntries).Select(r => r.Payee.Value).ToArray();
        KeptEntrySums.Take(db, run.Id, run.AsOf, taken);
        db.Adjustments.Where(a => a.RunId == null && a.On <= run.AsOf && taken.Contains(a.Payee)).ExecuteUpdate(set => set.SetProperty(a => a.RunId, run.Id));
        var paid = remittances.Where(r => r.Paid > 0).Select(r => r.Payee.Value).ToArray();
        db.PaymentRequests.Where(r => r.RunId == null && r.WithdrawnAt == null && paid.Contains(r.Payee)).ExecuteUpdate(set => set.SetProperty(r => r.RunId, run.Id));
        Note(by, "lock", run);
        transaction?.Commit();
    }

    private static IEnumerable<RunRateRecord> Rates(OpenedBook book, PayRunRecord run, IEnumerable<PayeeStanding> standings) => standings
        .SelectMany(s => s.Cleared.Concat(s.Adjustments).Select(m => (From: m.Currency, To: s.Payee.PayoutCurrency))).Distinct().Where(p => p.From != p.To)
        .Select(p => new RunRateRecord { RunId = run.Id, From = p.From.Code, To = p.To.Code, Source = book.Rules.Rates.Source(p.From, p.To, run.AsOf) ?? "no rate of the seven days before", Factor = book.Rules.Rates.MinorFactor(p.From, p.To, run.AsOf)?.ToExactText() });

    /// <summary>Takes a lock back: what the run had taken is open again, and later facts join.</summary>
    /// <exception cref="RefusedException">The run is not locked, or approved already; a later run builds on it; or no reason is given.</exception>
    public void Unlock(int id, string reason, string by)
    {
        using var transaction = db.Database.BeginTransaction();
        var run = InState(id, RunState.Locked, "Only a run that is locked, and not approved, can be unlocked.");
        cache.Get(db).DemandOpen(run.AsOf, "Reason");
        if (string.IsNullOrWhiteSpace(reason)) throw new RefusedException("Say why it is unlocked; it stands in the log beside your name.", "Reason");
        if (db.PayRuns.FirstOrDefault(r => r.State == RunState.Gathering) is { } other) throw new RefusedException($"The run as of {other.AsOf.InWords()} is gathering; lock it or discard it first.", "Reason");
        if (db.PayRuns.AsNoTracking().Where(r => r.Id > id && r.State > RunState.Gathering).AsEnumerable().FirstOrDefault(r => run.Payees is null || r.Payees is null || r.Payees.Intersect(run.Payees).Any()) is { } later)
        {
            throw new RefusedException($"The run as of {later.AsOf.InWords()} builds on what this one carried.", "Reason");
        }
        if (db.Remittances.Any(r => r.RunId == id && r.State == RemittanceState.SetAside)) throw new RefusedException("A payment of this run was set aside and is owed again; the run goes on without it.", "Reason");
        db.Recoupments.Where(r => r.RunId == id).ExecuteDelete();
        db.RunMarks.Where(m => m.RunId == id).ExecuteDelete();
        db.RunRates.Where(r => r.RunId == id).ExecuteDelete();
        db.NotedInvoices.Where(n => n.RunId == id).ExecuteDelete();
        db.Remittances.Where(r => r.RunId == id).ExecuteDelete();
        // Meanwhile a hold or a sign-off may have changed, which only moves what no run has taken.
        AskedAgain.Ask(db, db.OrdersOf(run));
        KeptEntrySums.GiveBack(db, id);
        db.Adjustments.Where(a => a.RunId == id).ExecuteUpdate(set => set.SetProperty(a => a.RunId, (int?)null));
        // Who asked for a payment asks for it again, unless they have done so themselves.
        db.PaymentRequests.Where(r => r.RunId == id && !db.PaymentRequests.Any(o => o.Payee == r.Payee && o.RunId == null && o.WithdrawnAt == null)).ExecuteUpdate(set => set.SetProperty(r => r.RunId, (int?)null));
        // Whoever unlocks it has prepared what is locked next.
        (run.State, run.LockedBy, run.LockedAt, run.PreparedBy) = (RunState.Gathering, null, null, by);
        audit.Note(by, $"unlock: {reason.Trim()}", Name(run));
        db.SaveChanges();
        transaction.Commit();
    }

    /// <summary>Notes that somebody has looked at what is unusual about a payee's remittance, or about all of them.</summary>
    public void LookAt(int id, string? payee, string by)
    {
        using var transaction = db.Database.BeginTransaction();
        var run = InState(id, RunState.Locked, "What is unusual is looked at after a run is locked and before it is approved.");
        fourEyes.Demand("this run", "look at what is unusual about it", by, run.PreparedBy, run.LockedBy);
        var marks = db.RunMarks.Where(m => m.RunId == id && m.LookedAtBy == null && (payee == null || m.Payee == payee)).ExecuteUpdate(set => set.SetProperty(m => m.LookedAtBy, by));
        Note(by, $"look at {MoneyWords.Count(marks, "mark")} in", run);
        transaction.Commit();
    }

    /// <param name="sums">The control sums the approver had before them, as <see cref="RunView.ControlText"/> says them.</param>
    /// <exception cref="RefusedException">The run is not locked, the approver prepared or locked it, something unusual was not looked at, or the sums are others.</exception>
    public void Approve(int id, string sums, string by)
    {
        using var transaction = db.Database.BeginTransaction();
        var run = InState(id, RunState.Locked, "Only a locked run can be approved.");
        fourEyes.Demand("this run", "approve it", by, run.PreparedBy, run.LockedBy);
        if (db.RunMarks.Count(m => m.RunId == id && m.LookedAtBy == null) is > 0 and var open) throw new RefusedException($"{MoneyWords.Count(open, "thing")} unusual about this run {(open == 1 ? "was" : "were")} not looked at yet.");
        if (doubts.PaidTwiceBy(id) is { } twice) throw new RefusedException(twice);
        if (RunView.ControlTextOf(PayRunDesk.Control(db, id)) != sums) throw new RefusedException("The run has changed since you looked at it; compare the control sums as they are now.");
        (run.State, run.ApprovedBy, run.ApprovedAt) = (RunState.Approved, by, clock.GetUtcNow());
        Note(by, "approve", run);
        transaction.Commit();
    }

    /// <summary>Takes a payment out of a run that is not issued yet; it is owed again, and an approval is taken back.</summary>
    /// <exception cref="RefusedException">The run is not locked or approved, the payment is made, or no reason is given.</exception>
    public void SetAside(int id, int remittanceId, string reason, string by)
    {
        using var transaction = db.Database.BeginTransaction();
        var run = db.PayRuns.Include(r => r.Remittances).Known(r => r.Id == id);
        if (run.State is not (RunState.Locked or RunState.Approved)) throw new RefusedException("Payments are set aside after the lock and before the run is issued.");
        if (string.IsNullOrWhiteSpace(reason)) throw new RefusedException("Say why; the payee may ask.", "AsideReason");
        var remittance = run.Remittances.SingleOrDefault(r => r.Id == remittanceId);
        if (remittance is not { Paid: > 0, State: RemittanceState.Ready }) throw new RefusedException("There is no payment to set aside here.");
        (remittance.State, remittance.Why, remittance.CameBackOn) = (RemittanceState.SetAside, reason.Trim(), clock.Today);
        // First: only a run of which something was set aside may go back.
        db.SaveChanges();
        owed.Post(remittance, run, by);
        db.RunMarks.Where(m => m.RunId == id && m.Payee == remittance.Payee).ExecuteDelete();
        (run.State, run.ApprovedBy, run.ApprovedAt, run.LockedBy) = (RunState.Locked, null, null, by);
        Note(by, $"set the payment of {remittance.Payee} aside in", run);
        transaction.Commit();
    }

    /// <exception cref="RefusedException">The run is not approved, or something in it is neither paid nor known not to be.</exception>
    public void Close(int id, string by)
    {
        var run = db.PayRuns.Known(r => r.Id == id);
        if (run.State is not (RunState.Approved or RunState.Issued)) throw new RefusedException(run.State == RunState.Closed ? "This run is closed." : "A run must be approved before it can be closed.");
        var open = db.Remittances.Count(r => r.RunId == id && r.Paid > 0 && (r.State == RemittanceState.Ready || r.State == RemittanceState.Sent));
        if (open > 0) throw new RefusedException($"{open} {(open == 1 ? "remittance is" : "remittances are")} not marked paid yet.");
        run.State = RunState.Closed;
        Note(by, "close", run);
    }

    private PayRunRecord InState(int id, RunState state, string otherwise)
    {
        var run = db.PayRuns.SingleOrDefault(r => r.Id == id) ?? throw new RefusedException("There is no such run; it may have been discarded.");
        return run.State == state ? run : throw new RefusedException(otherwise);
    }

    private void Note(string by, string action, PayRunRecord run)
    {
        audit.Note(by, action, Name(run));
        db.SaveChanges();
    }

    internal static string Name(PayRunRecord run) => $"the run as of {run.AsOf.InWords()}";

    private static RemittanceRecord ToRecord(Remittance remittance, Destination goes) => new()
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
        Method = goes.Method,
        DetailsId = goes.Details is { CameBack: false } details ? details.Id : null,
        Through = goes.Through,
    };
}
