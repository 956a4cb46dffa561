using EvenSplit.Books.Journal;
using EvenSplit.Books.Model;
using EvenSplit.Books.Reconcile;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Proofs;

/// <summary>What keeps a month from being closed, and the page where that is done; empty where it lies in time alone.</summary>
public sealed record CloseBlock(string Words, string Path);

/// <summary>Something that came after its month was closed and was posted later.</summary>
public sealed record CameLater(DateOnly On, string Order, string? Refund, Money Charged);

/// <summary>Closes a month, by two persons, once it is proved and nothing on the benches is open; and opens it again, by two persons with a reason (reconcile contract, section 7).</summary>
public sealed class MonthClosing(BookDbContext db, BookClock clock, MonthProof proofs, Benches benches, FindMatches matches, RowSeals seals, FourEyes fourEyes, AuditLog audit) : IUseCase
{
    private const int MostListed = 200;

    /// <summary>How a month stands: closed, half closed, half opened, or null where it was never closed or is open again.</summary>
    public MonthCloseRecord? Standing(Period month) => db.MonthCloses.AsNoTracking().SingleOrDefault(c => c.Period == month.Number && c.OpenedConfirmedBy == null && !c.IsWithdrawn);

    /// <summary>Every time a month was closed or opened, the latest first.</summary>
    public IReadOnlyList<MonthCloseRecord> History(Period month) => db.MonthCloses.AsNoTracking().Where(c => c.Period == month.Number).OrderByDescending(c => c.Id).ToArray();

    /// <summary>What of a closed month came later: posted since, on days of other months.</summary>
    public IReadOnlyList<CameLater> CameAfter(Period month) => [.. db.Bookings.AsNoTracking().Where(b => b.ForPeriod == month.Number).OrderByDescending(b => b.Id).Take(MostListed)
        .Join(db.Orders, b => b.OrderId, o => o.Id, (b, o) => new { Booking = b, o.OrderId }).AsEnumerable().Select(b => new CameLater(b.Booking.On, b.OrderId, b.Booking.Refund, new Money(b.Booking.Charged, Currency.Of(b.Booking.Currency))))];

    /// <summary>What has to be done before a month can be closed, in the order in which it is done; none where it can.</summary>
    public IReadOnlyList<CloseBlock> Blocks(Period month, ProofView proof)
    {
        var blocks = new List<CloseBlock>();
        if (month.LastDay >= clock.Today) blocks.Add(new($"{month.Name} ends on {month.LastDay.InWords()}", ""));
        if (db.ClosedMonths().Any(p => p > month.Number)) blocks.Add(new($"{new Period(db.ClosedMonths().Max()).Name} is closed already, and months are closed one after the other", ""));
        if (db.Quarantine.Count(q => q.State == QuarantineState.Waiting) is > 0 and var rows) blocks.Add(new($"{MoneyWords.Count(rows, "row")} in quarantine", "sales/quarantine"));
        if (db.Recalculations.Any(r => !r.IsFinished)) blocks.Add(new("Orders are being worked out again after a change", ""));
        if (benches.Open(month) is > 0 and var open) blocks.Add(new($"{MoneyWords.Count(open, "finding")} on the benches {(open == 1 ? "is" : "are")} open", "pay/bench"));
        var (first, last) = (month.FirstDay, month.LastDay);
        if (db.PayRuns.AsNoTracking().FirstOrDefault(r => r.State == RunState.Gathering && r.AsOf >= first && r.AsOf <= last) is { } run) blocks.Add(new($"The run as of {run.AsOf.InWords()} is still gathering", $"pay/{run.Id}"));
        if (!proof.Holds) blocks.Add(new($"{MoneyWords.Count(proof.Failing, "check does", "checks do")} not hold", "books/proof"));
        return blocks;
    }

    /// <summary>Closes a month; it is closed once somebody else confirms.</summary>
    /// <exception cref="RefusedException">Something keeps it from being closed, or somebody has closed it already.</exception>
    public void Close(Period month, string by)
    {
        matches.RunAll();
        using var transaction = db.Database.BeginTransaction();
        if (Standing(month) is { } standing) throw new RefusedException(standing.ConfirmedBy is null ? $"{standing.ClosedBy} has closed {month.Name} already; somebody else confirms it." : $"{month.Name} is closed already.");
        DemandNothingInTheWay(month);
        db.MonthCloses.Add(new MonthCloseRecord { Period = month.Number, ClosedBy = by, ClosedAt = clock.GetUtcNow() });
        audit.Note(by, "close a month, for somebody else to confirm", month.Name);
        db.SaveChanges();
        transaction.Commit();
    }

    /// <summary>Takes it back before anybody has confirmed.</summary>
    public void Withdraw(Period month, string by)
    {
        var close = Waiting(month);
        close.IsWithdrawn = true;
        audit.Note(by, "take back the closing of a month", month.Name);
        db.SaveChanges();
    }

    /// <summary>Confirms it: from then on nothing of the month changes, and what it came to is kept.</summary>
    /// <exception cref="RefusedException">Whoever closed it confirms, or something has come in its way since.</exception>
    public void Confirm(Period month, string by)
    {
        matches.RunAll();
        using var transaction = db.Database.BeginTransaction();
        var close = Waiting(month);
        fourEyes.Demand("the closing of this month", "confirm it", by, close.ClosedBy);
        var proof = DemandNothingInTheWay(month);
        close.HashBefore = db.MonthCloses.AsNoTracking().Where(c => c.Period < month.Number && c.ConfirmedBy != null && c.OpenedConfirmedBy == null).OrderByDescending(c => c.Period).Select(c => c.Hash).FirstOrDefault() ?? "";
        seals.SealAll();
        (close.Hash, close.IsSealed, close.Proof) = (seals.HashOf(month, close.HashBefore), true, KeptProof.Write(proof));
        (close.ConfirmedBy, close.ConfirmedAt) = (by, clock.GetUtcNow());
        audit.Note(by, "confirm the closing of a month", month.Name);
        db.SaveChanges();
        Changed();
        transaction.Commit();
    }

    /// <summary>Asks for a closed month to be opened again; it is once somebody else confirms.</summary>
    /// <exception cref="RefusedException">It is not closed, a later month is, or no reason is given.</exception>
    public void AskToOpen(Period month, string reason, string by)
    {
        using var transaction = db.Database.BeginTransaction();
        var close = Closed(month);
        if (reason.Trim().Length == 0) throw new RefusedException("Say why it is opened again; that stays on record for ever.", "Reason");
        if (db.ClosedMonths().Any(p => p > month.Number)) throw new RefusedException($"{new Period(db.ClosedMonths().Max()).Name} is closed too, and follows on this month; open that one first.", "Reason");
        (close.OpenedBy, close.OpenedBecause) = (by, reason.Trim());
        audit.Note(by, $"ask to open a closed month: {reason.Trim()}", month.Name);
        db.SaveChanges();
        transaction.Commit();
    }

    /// <summary>Opens it again.</summary>
    /// <exception cref="RefusedException">Nobody has asked, or whoever asked confirms.</exception>
    public void ConfirmOpening(Period month, string by)
    {
        using var transaction = db.Database.BeginTransaction();
        var close = Closed(month);
        if (close.OpenedBy is null) throw new RefusedException($"Nobody has asked to open {month.Name} again.");
        fourEyes.Demand("the opening of this month", "confirm it", by, close.OpenedBy);
        (close.OpenedConfirmedBy, close.OpenedAt) = (by, clock.GetUtcNow());
        audit.Note(by, $"open a closed month: {close.OpenedBecause}", month.Name);
        db.SaveChanges();
        Changed();
        transaction.Commit();
    }

    /// <summary>What is read of the book once is read anew.</summary>
    private void Changed() => db.Book.ExecuteUpdate(set => set.SetProperty(b => b.RulesVersion, b => b.RulesVersion + 1));

    private ProofView DemandNothingInTheWay(Period month)
    {
        var proof = proofs.Of(month);
        if (Blocks(month, proof) is [var first, ..]) throw new RefusedException($"{month.Name} cannot be closed yet. {first.Words}.");
        return proof;
    }

    private MonthCloseRecord Waiting(Period month) => db.MonthCloses.SingleOrDefault(c => c.Period == month.Number && c.ConfirmedBy == null && !c.IsWithdrawn) ?? throw new RefusedException($"{month.Name} does not wait for anybody to confirm that it is closed.");

    private MonthCloseRecord Closed(Period month) =>
        db.MonthCloses.SingleOrDefault(c => c.Period == month.Number && c.ConfirmedBy != null && c.OpenedConfirmedBy == null) ?? throw new RefusedException($"{month.Name} is not closed.");
}
