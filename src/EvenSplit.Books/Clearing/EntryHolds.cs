using EvenSplit.Books.Model;
using EvenSplit.Books.Posting;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Clearing;

/// <summary>Something held back, with why.</summary>
public sealed record HeldBack(int Id, string OrderId, string Product, string PayeeId, string Payee, IReadOnlyList<Money> Amounts, string Reason, string By, DateTimeOffset At);

/// <summary>Holds back what a payee earns on a line, its reversals with it, and lets it go. What a run has taken is not touched.</summary>
public sealed class EntryHolds(BookDbContext db, BookCache cache, BookClock clock, AuditLog audit) : IUseCase
{
    public IReadOnlyList<HeldBack> List()
    {
        var book = cache.Get(db);
        return db.EntryHolds.AsNoTracking().Where(h => h.LetGoAt == null).OrderBy(h => h.Id)
            .Select(h => new
            {
                Hold = h,
                db.Orders.First(o => o.Id == h.OrderId).OrderId,
                db.OrderLines.First(l => l.OrderId == h.OrderId && l.Number == h.LineNumber).Product,
                Amounts = db.Entries.Where(e => e.OrderId == h.OrderId && e.LineNumber == h.LineNumber && e.Payee == h.Payee && e.Agreement == h.Agreement && e.RunId == null)
                    .Select(e => new { e.Currency, e.Amount }).ToList(),
            }).AsEnumerable()
            .Select(h => new HeldBack(
                h.Hold.Id, h.OrderId, book.ProductName(h.Product), h.Hold.Payee, book.PayeeName(h.Hold.Payee),
                [.. h.Amounts.GroupBy(a => a.Currency).Select(g => new Money(g.Sum(a => a.Amount), Currency.Of(g.Key)))], h.Hold.Reason, h.Hold.By, h.Hold.At)).ToArray();
    }

    /// <param name="entryId">Any entry of it.</param>
    /// <exception cref="RefusedException">No reason, held back already, or a run has taken it.</exception>
    public void Hold(long entryId, string reason, string by)
    {
        if (reason.Trim().Length == 0) throw new RefusedException("Say why it is held back; the payee may ask.", "HoldReason");
        using var transaction = db.Database.BeginTransaction();
        var entry = db.Entries.AsNoTracking().Known(e => e.Id == entryId);
        if (entry.RunId is { } run) throw new RefusedException($"Run {run} has taken it; what is paid cannot be held back.");
        if (HeldLines.Of(db, [entry.OrderId]).Contains((entry.OrderId, entry.LineNumber, entry.Payee, entry.Agreement)))
        {
            throw new RefusedException("It is held back already.");
        }
        db.EntryHolds.Add(new EntryHoldRecord
        {
            OrderId = entry.OrderId,
            LineNumber = entry.LineNumber,
            Payee = entry.Payee,
            Agreement = entry.Agreement,
            Reason = reason.Trim(),
            By = by,
            At = clock.GetUtcNow(),
        });
        Redate(entry.OrderId, by, "hold back", $"{entry.Payee}, entry {entryId}: {reason.Trim()}");
        transaction.Commit();
    }

    /// <exception cref="RefusedException">It was let go already.</exception>
    public void LetGo(int holdId, string by)
    {
        using var transaction = db.Database.BeginTransaction();
        var hold = db.EntryHolds.Known(h => h.Id == holdId);
        if (hold.LetGoAt is not null) throw new RefusedException($"{hold.LetGoBy} has let it go already.");
        (hold.LetGoBy, hold.LetGoAt) = (by, clock.GetUtcNow());
        Redate(hold.OrderId, by, "let go", $"{hold.Payee}: {hold.Reason}");
        transaction.Commit();
    }

    /// <summary>The order is worked out again, which sets the days on which its open entries clear.</summary>
    private void Redate(long order, string by, string action, string subject)
    {
        audit.Note(by, action, subject);
        db.SaveChanges();
        new OrderPosting(db, cache.Get(db), clock.Today).Recalculate([order]);
    }
}
