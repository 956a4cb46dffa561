using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Importing;

/// <summary>What one payee's links on one source page led to in a month.</summary>
/// <param name="Source">The page the links stood on; empty where the browser did not say.</param>
/// <param name="Orders">Paid orders attributed by such a click.</param>
public sealed record ClickRow(string PayeeId, string Payee, string Source, string Page, int Clicks, int Visitors, int Orders, IReadOnlyList<Money> Charged);

/// <summary>From source page to orders: what links led to.</summary>
public sealed class ClickReport(BookDbContext db, BookCache cache) : IUseCase
{
    private const int MostRows = 500;

    /// <param name="payee">A payee's id; empty for all.</param>
    public IReadOnlyList<ClickRow> Find(Period period, string payee)
    {
        var book = cache.Get(db);
        var clicks = db.Clicks.AsNoTracking().Where(c => c.Period == period.Number && (payee == "" || c.Payee == payee));
        var rows = clicks.GroupBy(c => new { c.Payee, c.Source, c.Page }).Select(g => new { g.Key, Clicks = g.Count(), Visitors = g.Select(c => c.Visitor).Distinct().Count() })
            .OrderByDescending(g => g.Clicks).Take(MostRows).ToArray();
        // The click that brought an order is the payee's last before it, or the first, as the book's model has it.
        var brought = (from click in clicks
                       join order in db.Orders.AsNoTracking().Where(o => o.Via == AttributionVia.Click && o.Status == OrderStatus.Calculated) on click.Payee equals order.AttributedTo
                       where (click.Visitor != "" && click.Visitor == order.Visitor || click.Order != "" && click.Order == order.OrderId) && click.At <= order.PlacedAt
                       select new { click.Payee, click.Source, click.Page, click.At, order.Id, order.Currency, order.Charged }).AsEnumerable()
            .GroupBy(b => b.Id).Select(g => book.Record.ClickModel == ClickModel.First ? g.MinBy(b => b.At)! : g.MaxBy(b => b.At)!)
            .ToLookup(b => (b.Payee, b.Source, b.Page));
        return [.. rows.Select(r =>
        {
            var orders = brought[(r.Key.Payee, r.Key.Source, r.Key.Page)].ToArray();
            return new ClickRow(r.Key.Payee, book.PayeeName(r.Key.Payee), r.Key.Source, r.Key.Page, r.Clicks, r.Visitors, orders.Length,
                [.. orders.GroupBy(o => o.Currency).Select(g => new Money(g.Sum(o => o.Charged), Currency.Of(g.Key)))]);
        })];
    }
}
