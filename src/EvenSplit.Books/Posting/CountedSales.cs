using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Posting;

/// <summary>
/// Keeps the sales of products whose plans count them, in the order of placing. A sale costs its day, whenever it comes; others are looked at again only
/// where another price, or another quantity left, holds for them now.
/// </summary>
internal sealed class CountedSales(BookDbContext db, OpenedBook book)
{
    private readonly HashSet<string> _counted = [.. book.Plans.Where(p => p.Value.Pricing is { CountsSales: true }).Select(p => p.Key.Value)];
    private readonly Dictionary<string, CountedProduct> _products = [];
    /// <summary>What orders sell that were put in the place of what they were.</summary>
    private CountedSaleRecord[] _now = [];

    /// <summary>Puts what these orders sell now in the place of what they sold.</summary>
    /// <returns>Other orders for which another price, or another quantity left, holds now.</returns>
    public IReadOnlyCollection<long> Replace(IReadOnlyCollection<WorkedOut> outcomes)
    {
        if (_counted.Count == 0) return [];
        var keys = outcomes.Select(o => o.Held.Record.Id).ToHashSet();
        var was = BulkReader<CountedSaleRecord>.Read(db, "OrderId", keys, "OrderId");
        CountedSaleRecord[] now = [.. outcomes.Where(o => o.Outcome.Ledger is not null).SelectMany(o => SalesOf(o.Held))];
        var (wasThere, isThere) = (was.Select(Facts).ToHashSet(), now.Select(Facts).ToHashSet());
        foreach (var gone in was.Where(s => !isThere.Contains(Facts(s)))) Product(gone.Product).Remove(gone);
        foreach (var come in now.Where(s => !wasThere.Contains(Facts(s)))) Product(come.Product).Add(come);
        var changes = _products.Values.Select(p => p.Changes()).ToArray();
        Write(BulkWriter<CountedSaleRecord>.Deleting(db), changes.SelectMany(c => c.Gone));
        Write(BulkWriter<CountedSaleRecord>.Inserting(db), changes.SelectMany(c => c.Come));
        Write(BulkWriter<CountedDayRecord>.Deleting(db), changes.SelectMany(c => c.EmptyDays));
        Write(BulkWriter<CountedDayRecord>.Replacing(db), changes.SelectMany(c => c.Days));
        _now = now;
        return _products.SelectMany(p => p.Value.JudgedOtherwise(book.Plans[new ProductId(p.Key)])).Where(order => !keys.Contains(order)).ToHashSet();
    }

    /// <summary>Units sold before each line that counts, of the orders that were put in the place of what they were.</summary>
    public IReadOnlyDictionary<(long Order, int Line), long> SoldBefore() => _now.ToDictionary(s => (s.OrderId, s.LineNumber), s => Product(s.Product).SoldBefore(s));

    /// <summary>Counts a product's sales anew, after its plan has begun or ceased to count them.</summary>
    public static void Rebuild(BookDbContext db, string product, bool counts)
    {
        db.CountedSales.Where(s => s.Product == product).ExecuteDelete();
        db.CountedDays.Where(d => d.Product == product).ExecuteDelete();
        if (!counts) return;
        db.Database.ExecuteSql(
            $"""
            INSERT INTO CountedSales (Product, PlacedAt, OrderId, LineNumber, Quantity)
            SELECT l.Product, o.PlacedAt, o.Id, l.Number, l.Quantity FROM OrderLines l JOIN Orders o ON o.Id = l.OrderId
            WHERE l.Product = {product} AND l.Position IS NOT NULL AND o.Status = {(int)OrderStatus.Calculated} AND COALESCE(l.PaymentNumber, 1) = 1
            """);
        // From ticks of 100 ns since the year 1 to days.
        db.Database.ExecuteSql(
            $"""
            INSERT INTO CountedDays (Product, "On", Quantity)
            SELECT Product, date(PlacedAt / 864000000000 + 1721425.5), SUM(Quantity) FROM CountedSales WHERE Product = {product} GROUP BY 1, 2
            """);
    }

    private CountedProduct Product(string id)
    {
        if (!_products.TryGetValue(id, out var product)) _products[id] = product = new CountedProduct(db, id);
        return product;
    }

    private IEnumerable<CountedSaleRecord> SalesOf(HeldOrder held)
    {
        var numbers = held.Record.LineNumbers();
        return held.Order.Lines.Where(l => _counted.Contains(l.Product.Value) && PriceAudit.CountsAsSale(l))
            .Select(l => new CountedSaleRecord { Product = l.Product.Value, PlacedAt = held.Record.PlacedAt, OrderId = held.Record.Id, LineNumber = numbers[l.Id.Value], Quantity = l.Quantity });
    }

    private static (string Product, DateTimeOffset PlacedAt, long Order, int Line, long Quantity) Facts(CountedSaleRecord sale) =>
        (sale.Product, sale.PlacedAt, sale.OrderId, sale.LineNumber, sale.Quantity);

    private static void Write<T>(BulkWriter<T> writer, IEnumerable<T> rows) where T : class
    {
        using (writer) writer.Write(rows);
    }
}
