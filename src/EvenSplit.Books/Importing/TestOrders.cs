using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Importing;

/// <summary>A test order while it lasts.</summary>
/// <param name="GoneAt">Null where somebody marked it by hand: it stays until the mark is taken off.</param>
public sealed record TestOrderRow(string OrderId, string Channel, DateTimeOffset PlacedAt, bool IsPaid, long Lines, DateTimeOffset? GoneAt);

/// <summary>Test orders: in no figure, and removed an hour after they came, by the machine's clock. Those marked by hand stay.</summary>
public sealed class TestOrders(BookDbContext db, BookCache cache, AuditLog audit) : IUseCase
{
    public static readonly TimeSpan Lasts = TimeSpan.FromHours(1);

    public IReadOnlyList<TestOrderRow> List()
    {
        var book = cache.Get(db);
        return db.Orders.AsNoTracking().Where(o => o.IsTest).OrderByDescending(o => o.PlacedAt).Take(200)
            .Select(o => new { o.OrderId, o.Channel, o.PlacedAt, o.PaidAt, Lines = o.Lines.Count(l => l.Position != null), o.TestSince }).AsEnumerable()
            .Select(o => new TestOrderRow(o.OrderId, book.ChannelName(o.Channel), o.PlacedAt, o.PaidAt is not null, o.Lines, o.TestSince + Lasts)).ToArray();
    }

    /// <summary>Removes those whose hour is over. One that has entries, since it was marked by hand after it had been calculated, stays with their reversals.</summary>
    /// <returns>How many went.</returns>
    public int Remove(DateTimeOffset now)
    {
        var before = now - Lasts;
        var gone = db.Orders.Where(o => o.TestSince != null && o.TestSince <= before && !db.Entries.Any(e => e.OrderId == o.Id)).OrderBy(o => o.Id).Select(o => o.Id).Take(500).ToArray();
        if (gone.Length == 0) return 0;
        using var transaction = db.Database.BeginTransaction();
        db.RefundLines.Where(l => db.AllRefunds.Any(r => r.Id == l.RefundId && gone.Contains(r.OrderId))).ExecuteDelete();
        db.AllRefunds.Where(r => gone.Contains(r.OrderId)).ExecuteDelete();
        db.AcceptedExceptions.Where(a => gone.Contains(a.OrderId)).ExecuteDelete();
        db.OrderExceptions.Where(e => gone.Contains(e.OrderId)).ExecuteDelete();
        db.OrderLines.Where(l => gone.Contains(l.OrderId)).ExecuteDelete();
        db.OrderCodes.Where(c => gone.Contains(c.OrderId)).ExecuteDelete();
        db.OrderClicks.Where(c => gone.Contains(c.OrderId)).ExecuteDelete();
        db.Orders.Where(o => gone.Contains(o.Id)).ExecuteDelete();
        audit.Note("the application", "remove test orders", MoneyWords.Count(gone.Length, "test order"));
        db.SaveChanges();
        transaction.Commit();
        return gone.Length;
    }
}
