using EvenSplit.Books.Model;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Importing;

/// <summary>Keeps clicks and finds the orders they may have led to: of the same visitor and placed later, or named by the click.</summary>
internal sealed class ClickLog(BookDbContext db, OpenedBook book)
{
    /// <summary>Adds clicks that are not known yet.</summary>
    public IReadOnlyList<ClickRecord> Add(IReadOnlyCollection<LoggedClick> clicks)
    {
        var payees = clicks.Select(c => c.Payee.Value).Distinct().ToArray();
        var (first, last) = (clicks.Min(c => c.At), clicks.Max(c => c.At));
        var known = db.Clicks.AsNoTracking().Where(c => payees.Contains(c.Payee) && c.At >= first && c.At <= last)
            .Select(c => new { c.Payee, c.At, c.Visitor, c.Order }).AsEnumerable().Select(c => (c.Payee, c.At, c.Visitor, c.Order)).ToHashSet();
        var added = clicks.Where(c => known.Add((c.Payee.Value, c.At.ToUniversalTime(), c.Visitor, c.Order))).Select(c => new ClickRecord
        {
            Payee = c.Payee.Value,
            At = c.At,
            Visitor = c.Visitor,
            Order = c.Order,
            Page = c.Page,
            Source = c.Source,
            Period = Period.Of(book.Time.DateOf(c.At)).Number,
        }).ToArray();
        db.Clicks.AddRange(added);
        db.SaveChanges();
        return added;
    }

    /// <summary>Orders that are only now coming in, each with the clicks there are for it.</summary>
    /// <param name="visitors">By order id, what the shop knows their visitors by.</param>
    public Order[] WithClicks(IReadOnlyCollection<Order> orders, IReadOnlyDictionary<string, string> visitors)
    {
        if (orders.Count == 0) return [];
        var (ids, seen) = (orders.Select(o => o.Id.Value).ToArray(), visitors.Values.Distinct().ToArray());
        var named = db.Clicks.AsNoTracking().Where(c => c.Order != "" && ids.Contains(c.Order)).ToLookup(c => c.Order);
        var ofVisitors = (seen.Length == 0 ? [] : db.Clicks.AsNoTracking().Where(c => c.Visitor != "" && seen.Contains(c.Visitor)).ToArray()).ToLookup(c => c.Visitor);
        return [.. orders.Select(order =>
        {
            var visitor = visitors.GetValueOrDefault(order.Id.Value, "");
            ClickRecord[] clicks = [.. named[order.Id.Value], .. ofVisitors[visitor].Where(c => c.At <= order.PlacedAt)];
            return clicks.Length == 0 ? order : order with { Clicks = [.. order.Clicks, .. clicks.OrderBy(c => c.At).ThenBy(c => c.Id).Select(c => new Click(new PayeeId(c.Payee), c.At))] };
        })];
    }

    /// <summary>Puts clicks that have come late onto the orders they may have led to.</summary>
    /// <returns>The keys of those orders.</returns>
    public IReadOnlyCollection<long> Attach(IReadOnlyCollection<ClickRecord> clicks)
    {
        var touched = new HashSet<long>();
        foreach (var click in clicks)
        {
            var orders = click.Order.Length > 0
                ? db.Orders.Where(o => o.OrderId == click.Order)
                : db.Orders.Where(o => o.Visitor == click.Visitor && o.PlacedAt >= click.At);
            foreach (var order in orders.Select(o => o.Id).ToArray())
            {
                var position = (db.OrderClicks.Where(c => c.OrderId == order).Max(c => (int?)c.Position) ?? -1) + 1;
                db.OrderClicks.Add(new OrderClickRecord { OrderId = order, Position = position, Payee = click.Payee, At = click.At });
                db.SaveChanges();
                touched.Add(order);
            }
        }
        return touched;
    }
}
