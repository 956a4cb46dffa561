using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Sales;

/// <summary>Finds orders by a part of their id or of a code on them, by an index of every three letters of ids.</summary>
internal static class OrdersByText
{
    /// <summary>More than so many are narrowed by going through the month instead.</summary>
    private const int Most = 5_000;

    /// <summary>With fewer there is no index.</summary>
    public const int Letters = 3;

    /// <returns>The orders; and whether they are so many that they are not added up.</returns>
    public static (IQueryable<OrderRecord> Orders, bool AreMany) Containing(this IQueryable<OrderRecord> orders, BookDbContext db, string text)
    {
        var codes = Codes(db).Where(c => c.Contains(text, StringComparison.OrdinalIgnoreCase)).ToArray();
        var like = Inside(text);
        var keys = text.Length < Letters ? null : Keys(db, text);
        var withCodes = codes.Length == 0 ? [] : db.OrderCodes.Where(c => codes.Contains(c.Code)).Select(c => c.OrderId).Take(Most + 1).ToArray();
        if (keys is not { Length: <= Most } || withCodes.Length > Most)
        {
            return (orders.Where(o => EF.Functions.Like(o.OrderId, like, "\\") || o.Codes.Any(c => codes.Contains(c.Code))), true);
        }
        var found = keys.Union(withCodes).ToArray();
        return (orders.Where(o => found.Contains(o.Id) && (EF.Functions.Like(o.OrderId, like, "\\") || o.Codes.Any(c => codes.Contains(c.Code)))), false);
    }

    /// <summary>Orders by a part of their id alone.</summary>
    /// <returns>The orders, from three letters on; and whether they are too many to be looked at.</returns>
    public static (IQueryable<OrderRecord> Orders, bool AreMany) WithIdContaining(this IQueryable<OrderRecord> orders, BookDbContext db, string text)
    {
        var (keys, like) = (Keys(db, text), Inside(text));
        return (orders.Where(o => keys.Contains(o.Id) && EF.Functions.Like(o.OrderId, like, "\\")), keys.Length > Most);
    }

    private static string Inside(string text) => "%" + text.Replace("\\", "\\\\", StringComparison.Ordinal).Replace("%", "\\%", StringComparison.Ordinal).Replace("_", "\\_", StringComparison.Ordinal) + "%";

    /// <summary>Orders whose ids have each three letters of a text, which those that have the text all do; one more than is of use where there are many.</summary>
    private static long[] Keys(BookDbContext db, string text)
    {
        var parts = string.Join(" AND ", Enumerable.Range(0, text.Length - Letters + 1).Select(i => $"\"{text.Substring(i, Letters).Replace("\"", "\"\"", StringComparison.Ordinal)}\""));
        return [.. db.Database.SqlQuery<long>($"SELECT rowid AS Value FROM OrderTexts WHERE OrderTexts MATCH {parts} LIMIT {Most + 1}")];
    }

    /// <summary>Every code on an order, each once: from one to the next by the index.</summary>
    public static IEnumerable<string> Codes(BookDbContext db) => db.Database.SqlQuery<string>(
        $"""
        WITH RECURSIVE Each (Value) AS (SELECT MIN(Code) FROM OrderCodes UNION ALL SELECT (SELECT MIN(Code) FROM OrderCodes WHERE Code > Each.Value) FROM Each WHERE Each.Value IS NOT NULL)
        SELECT Value FROM Each WHERE Value IS NOT NULL
        """);
}
