using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Sales;

public enum FoundKind { Order, Payee, Product, Agreement }

/// <summary>Something that has a text in its id or name.</summary>
/// <param name="By">What of it has the text where that is not its name: a code, an e-mail address, its id.</param>
public sealed record Found(FoundKind Kind, string Id, string Name, string By);

/// <summary>Finds orders, payees, products and agreements by any part of what they are called, in any case: what begins with it before what only has it inside.</summary>
public sealed class FindAnything(BookDbContext db, BookCache cache) : IUseCase
{
    private const int Most = 20;

    /// <returns>The best first; at most twenty of each kind.</returns>
    public IReadOnlyList<Found> ByText(string text)
    {
        if (text.Length == 0) return [];
        var (book, mails) = (cache.Get(db), db.Payees.AsNoTracking().Where(p => p.Email != null).Select(p => new { p.Id, p.Email }).ToDictionary(p => p.Id, p => p.Email!));
        Ranked?[] found =
        [
            .. Orders(text),
            .. Best(book.Rules.Payees.Select(p => Match(text, FoundKind.Payee, p.Id.Value, book.PayeeName(p.Id.Value), [.. p.Codes.Select(c => c.Text), mails.GetValueOrDefault(p.Id.Value) ?? "", p.Id.Value]))),
            .. Best(book.Rules.Products.Select(p => Match(text, FoundKind.Product, p.Id.Value, book.ProductName(p.Id.Value), [p.Id.Value, .. p.Variants.Select(v => v.Value)]))),
            .. Best(book.Rules.Agreements.Select(a => Match(text, FoundKind.Agreement, a.Id.Value, book.AgreementName(a.Id.Value), [a.Id.Value]))),
        ];
        return [.. found.OfType<Ranked>().OrderBy(f => f.Rank).ThenBy(f => f.Found.Kind).ThenBy(f => f.Found.Name, StringComparer.OrdinalIgnoreCase).Select(f => f.Found)];
    }

    private IEnumerable<Ranked> Orders(string text)
    {
        // A range first, so that the index on the id serves it however many orders have the text inside.
        var end = text[..^1] + (char)(text[^1] + 1);
        var first = db.Orders.Where(o => string.Compare(o.OrderId, text) >= 0 && string.Compare(o.OrderId, end) < 0).OrderBy(o => o.OrderId).Select(o => o.OrderId).Take(Most).ToList();
        if (first.Count < Most && text.Length >= OrdersByText.Letters)
        {
            var (orders, areMany) = db.Orders.WithIdContaining(db, text);
            if (!areMany) first.AddRange(orders.OrderBy(o => o.OrderId).Select(o => o.OrderId).Take(Most).AsEnumerable().Except(first).Take(Most - first.Count));
        }
        return first.Select(o => Match(text, FoundKind.Order, o, o, [])).OfType<Ranked>();
    }

    private static IEnumerable<Ranked> Best(IEnumerable<Ranked?> matches) => matches.OfType<Ranked>().OrderBy(m => m.Rank).ThenBy(m => m.Found.Name, StringComparer.OrdinalIgnoreCase).Take(Most);

    /// <summary>0 for the whole of it, 1 for its beginning, 2 for the beginning of a word, 3 for anywhere; null where it is not in it.</summary>
    private static int? Rank(string text, string of)
    {
        var at = of.IndexOf(text, StringComparison.OrdinalIgnoreCase);
        return at < 0 ? null : at == 0 ? of.Length == text.Length ? 0 : 1 : of.Contains(' ' + text, StringComparison.OrdinalIgnoreCase) ? 2 : 3;
    }

    private static Ranked? Match(string text, FoundKind kind, string id, string name, IReadOnlyList<string> others)
    {
        var byName = Rank(text, name);
        var other = others.Select(o => (Text: o, Rank: Rank(text, o))).Where(o => o.Rank is not null).OrderBy(o => o.Rank).FirstOrDefault();
        if (byName is null && other.Rank is null) return null;
        return byName is not null && !(other.Rank < byName) ? new Ranked(byName.Value, new Found(kind, id, name, "")) : new Ranked(other.Rank!.Value, new Found(kind, id, name, other.Text));
    }

    private sealed record Ranked(int Rank, Found Found);
}
