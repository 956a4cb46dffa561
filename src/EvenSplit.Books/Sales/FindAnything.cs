using EvenSplit.Books.Model;

namespace EvenSplit.Books.Sales;

/// <summary>Finds orders by the beginning of their id, payees by name or code.</summary>
public sealed class FindAnything(BookDbContext db, BookCache cache) : IUseCase
{
    private const int Most = 20;

    public (IReadOnlyList<string> Orders, IReadOnlyList<(string Id, string Name)> Payees) ByText(string text)
    {
        if (text.Length == 0) return ([], []);
        var book = cache.Get(db);
        // A range, so that the index on the id serves it.
        var end = text[..^1] + (char)(text[^1] + 1);
        var orders = db.Orders.Where(o => string.Compare(o.OrderId, text) >= 0 && string.Compare(o.OrderId, end) < 0)
            .OrderBy(o => o.OrderId).Select(o => o.OrderId).Take(Most).ToArray();
        // Who types a whole id means that order.
        if (orders.Contains(text)) return ([text], []);
        var payees = book.Rules.Payees
            .Where(p => book.PayeeName(p.Id.Value).Contains(text, StringComparison.OrdinalIgnoreCase) || p.Codes.Contains(text, StringComparer.OrdinalIgnoreCase))
            .Select(p => (p.Id.Value, book.PayeeName(p.Id.Value))).Take(Most).ToArray();
        return (orders, payees);
    }
}
