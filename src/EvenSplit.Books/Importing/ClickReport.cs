using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Importing;

/// <summary>What one payee's links on one source page led to in a month.</summary>
/// <param name="Source">The page the links stood on; empty where the browser did not say.</param>
/// <param name="Orders">Paid orders attributed by such a click.</param>
public sealed record ClickRow(string PayeeId, string Payee, string Source, string Page, int Clicks, int Visitors, int Orders, IReadOnlyList<Money> Charged);

/// <summary>A day's clicks, and the paid orders attributed by such a click.</summary>
public sealed record ClickDay(DateOnly On, int Clicks, int Orders);

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
        var brought = Brought(clicks).ToLookup(b => (b.Payee, b.Source, b.Page));
        return [.. rows.Select(r =>
        {
            var orders = brought[(r.Key.Payee, r.Key.Source, r.Key.Page)].ToArray();
            return new ClickRow(r.Key.Payee, book.PayeeName(r.Key.Payee), r.Key.Source, r.Key.Page, r.Clicks, r.Visitors, orders.Length,
                [.. orders.GroupBy(o => o.Currency).Select(g => new Money(g.Sum(o => o.Charged), Currency.Of(g.Key)))]);
        })];
    }

    /// <summary>A month's clicks on the links of one payee by the day of the click, in the book's zone, with the paid orders that such a click brought; days without any are left out.</summary>
    public IReadOnlyList<ClickDay> Days(Period period, string payee)
    {
        var time = cache.Get(db).Time;
        var (from, before) = (time.StartOf(period.FirstDay).UtcTicks, time.StartOf(period.Next.FirstDay).UtcTicks);
        // No zone changes its date within a quarter of an hour.
        var quarters = db.Database.SqlQuery<QuarterHour>($"SELECT At / {Quarter} AS Number, COUNT(*) AS Clicks FROM Clicks WHERE Payee = {payee} AND At >= {from} AND At < {before} GROUP BY At / {Quarter}").ToArray();
        var clicks = quarters.GroupBy(q => time.DateOf(new DateTimeOffset(q.Number * Quarter, TimeSpan.Zero))).ToDictionary(g => g.Key, g => g.Sum(q => q.Clicks));
        var orders = Brought(db.Clicks.AsNoTracking().Where(c => c.Period == period.Number && c.Payee == payee)).GroupBy(b => time.DateOf(b.At)).ToDictionary(g => g.Key, g => g.Count());
        return [.. clicks.Keys.Union(orders.Keys).Order().Select(on => new ClickDay(on, clicks.GetValueOrDefault(on), orders.GetValueOrDefault(on)))];
    }

    /// <summary>By the order, the click that brought it: the payee's last before it, or the first, as the book's model has it.</summary>
    private IEnumerable<BringingClick> Brought(IQueryable<ClickRecord> clicks)
    {
        var isFirst = cache.Get(db).Record.ClickModel == ClickModel.First;
        return (from click in clicks
                join order in db.Orders.AsNoTracking().Where(o => o.Via == AttributionVia.Click && o.Status == OrderStatus.Calculated) on click.Payee equals order.AttributedTo
                where (click.Visitor != "" && click.Visitor == order.Visitor || click.Order != "" && click.Order == order.OrderId) && click.At <= order.PlacedAt
                select new BringingClick(click.Payee, click.Source, click.Page, click.At, order.Id, order.Currency, order.Charged)).AsEnumerable()
            .GroupBy(b => b.Order).Select(g => isFirst ? g.MinBy(b => b.At)! : g.MaxBy(b => b.At)!);
    }

    private const long Quarter = TimeSpan.TicksPerMinute * 15;

    private sealed record QuarterHour(long Number, int Clicks);

    private sealed record BringingClick(string Payee, string Source, string Page, DateTimeOffset At, long Order, string Currency, long Charged);
}
