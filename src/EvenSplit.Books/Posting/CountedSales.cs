using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Posting;

/// <summary>
/// Keeps, of products whose plans count sales, how many units were sold before each sale, in the order of placing. A sale that comes last
/// costs one row; one that comes late moves those after it.
/// </summary>
internal sealed class CountedSales(BookDbContext db, OpenedBook book)
{
    private readonly HashSet<string> _counted = [.. book.Plans.Where(p => p.Value.Pricing is { CountsSales: true }).Select(p => p.Key.Value)];

    /// <summary>Puts what these orders sell now in the place of what they sold.</summary>
    /// <returns>Other orders for which another price, or another quantity left, holds now.</returns>
    public IReadOnlyCollection<long> Replace(IReadOnlyCollection<WorkedOut> outcomes)
    {
        if (_counted.Count == 0) return [];
        var keys = outcomes.Select(o => o.Held.Record.Id).ToHashSet();
        var was = db.CountedSales.AsNoTracking().Where(s => keys.Contains(s.OrderId)).ToArray();
        var now = outcomes.Where(o => o.Outcome.Ledger is not null).SelectMany(o => SalesOf(o.Held)).ToArray();
        var touched = was.Select(Facts).Except(now.Select(Facts)).Concat(now.Select(Facts).Except(was.Select(Facts)))
            .GroupBy(s => s.Product, (product, sales) => (Product: product, From: sales.Min(s => s.PlacedAt)));
        var shifted = new HashSet<long>();
        foreach (var (product, from) in touched.ToArray())
        {
            var all = now.Where(s => s.Product == product && s.PlacedAt >= from)
                .Concat(db.CountedSales.AsNoTracking().Where(s => s.Product == product && s.PlacedAt >= from && !keys.Contains(s.OrderId)))
                .OrderBy(s => s.PlacedAt).ThenBy(s => s.OrderId).ThenBy(s => s.LineNumber).ToArray();
            Renumber(product, from, all, keys, shifted);
        }
        return shifted;
    }

    /// <summary>Units sold before each line of these orders that counts.</summary>
    public IReadOnlyDictionary<(long Order, int Line), long> SoldBefore(IEnumerable<long> orders)
    {
        if (_counted.Count == 0) return new Dictionary<(long, int), long>();
        var keys = orders.ToHashSet();
        return db.CountedSales.AsNoTracking().Where(s => keys.Contains(s.OrderId)).ToDictionary(s => (s.OrderId, s.LineNumber), s => s.Before);
    }

    /// <summary>Counts a product's sales anew, after its plan has begun or ceased to count them.</summary>
    public static void Rebuild(BookDbContext db, string product, bool counts)
    {
        db.CountedSales.Where(s => s.Product == product).ExecuteDelete();
        if (!counts) return;
        db.Database.ExecuteSql(
            $"""
            INSERT INTO CountedSales (Product, PlacedAt, OrderId, LineNumber, Quantity, "Before")
            SELECT l.Product, o.PlacedAt, o.Id, l.Number, l.Quantity,
                COALESCE(SUM(l.Quantity) OVER (ORDER BY o.PlacedAt, o.Id, l.Number ROWS BETWEEN UNBOUNDED PRECEDING AND 1 PRECEDING), 0)
            FROM OrderLines l JOIN Orders o ON o.Id = l.OrderId
            WHERE l.Product = {product} AND l.Position IS NOT NULL AND o.Status = {(int)OrderStatus.Calculated} AND COALESCE(l.PaymentNumber, 1) = 1
            """);
    }

    private void Renumber(string product, DateTimeOffset from, CountedSaleRecord[] sales, HashSet<long> own, HashSet<long> shifted)
    {
        var plan = book.Plans[new ProductId(product)].Pricing!;
        db.CountedSales.Where(s => s.Product == product && s.PlacedAt >= from && own.Contains(s.OrderId)).ExecuteDelete();
        var last = db.CountedSales.AsNoTracking().Where(s => s.Product == product && s.PlacedAt < from)
            .OrderByDescending(s => s.PlacedAt).ThenByDescending(s => s.OrderId).ThenByDescending(s => s.LineNumber).FirstOrDefault();
        var sold = last is null ? 0 : last.Before + last.Quantity;
        var changed = new List<CountedSaleRecord>();
        foreach (var sale in sales)
        {
            var before = sale.Before;
            var isOwn = own.Contains(sale.OrderId);
            if (isOwn || before != sold) changed.Add(sale);
            sale.Before = sold;
            if (!isOwn && JudgesOtherwise(plan, sale.Quantity, before, sold)) shifted.Add(sale.OrderId);
            sold += sale.Quantity;
        }
        using var writer = BulkWriter<CountedSaleRecord>.Replacing(db);
        writer.Write(changed);
    }

    private static bool JudgesOtherwise(PricePlan plan, long quantity, long was, long now) =>
        (plan.Steps is { } steps && was / steps.Every != now / steps.Every) || (plan.AtMost is { } most && (quantity > most - was || quantity > most - now));

    private IEnumerable<CountedSaleRecord> SalesOf(HeldOrder held)
    {
        var numbers = held.Record.LineNumbers();
        return held.Order.Lines.Where(l => _counted.Contains(l.Product.Value) && PriceAudit.CountsAsSale(l))
            .Select(l => new CountedSaleRecord { Product = l.Product.Value, PlacedAt = held.Record.PlacedAt, OrderId = held.Record.Id, LineNumber = numbers[l.Id.Value], Quantity = l.Quantity });
    }

    private static (string Product, DateTimeOffset PlacedAt, long Order, int Line, long Quantity) Facts(CountedSaleRecord sale) =>
        (sale.Product, sale.PlacedAt, sale.OrderId, sale.LineNumber, sale.Quantity);
}
