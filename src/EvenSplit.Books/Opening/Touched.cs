using System.Text.Json;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books;

/// <summary>Finds the orders that a change can touch, each kind of subject by an index of its own.</summary>
internal static class Touched
{
    private const string Named =
        """
        SELECT * FROM Orders WHERE Id IN (
            WITH RECURSIVE Followed (Id) AS (
                SELECT Id FROM Orders WHERE AttributedTo IN (SELECT value FROM json_each($payees))
                UNION SELECT Id FROM Orders WHERE ManualPayee IN (SELECT value FROM json_each($payees))
                UNION SELECT OrderId FROM OrderClicks WHERE Payee IN (SELECT value FROM json_each($payees))
                UNION SELECT OrderId FROM OrderCodes WHERE Code IN (SELECT value FROM json_each($codes))
                UNION SELECT renewal.Id FROM Followed JOIN Orders AS origin ON origin.Id = Followed.Id JOIN Orders AS renewal ON renewal.Origin = origin.OrderId)
            SELECT Id FROM Followed
            UNION SELECT OrderId FROM Entries WHERE Payee IN (SELECT value FROM json_each($earners))
            UNION SELECT OrderId FROM OrderLines WHERE Product IN (SELECT value FROM json_each($products)) AND Position IS NOT NULL
            UNION SELECT Id FROM Orders WHERE Processor IN (SELECT value FROM json_each($processors))
            UNION SELECT Id FROM Orders WHERE Channel IN (SELECT value FROM json_each($channels)))
        """;

    /// <summary>Tests are in no figure and are never touched.</summary>
    public static IQueryable<OrderRecord> TouchedBy(this BookDbContext db, TouchedOrders touched)
    {
        var orders = (touched.Everything ? db.Orders : db.Orders.FromSqlRaw(
            Named, Texts("$payees", touched.Payees), Texts("$codes", touched.Codes), Texts("$earners", touched.Earners), Texts("$products", touched.Products),
            Texts("$processors", touched.Processors), Texts("$channels", touched.Channels))).Where(o => !o.IsTest);
        if (touched.PlacedFrom is { } from)
        {
            var instant = Earliest(from);
            orders = orders.Where(o => o.PlacedAt >= instant);
        }
        if (touched.PlacedBefore is { } before)
        {
            var instant = Latest(before);
            orders = orders.Where(o => o.PlacedAt < instant);
        }
        if (touched.ConvertedFrom is { } convertedFrom)
        {
            var instant = Earliest(convertedFrom);
            orders = orders.Where(o => (o.PaidAt ?? o.PlacedAt) >= instant);
        }
        if (touched.ConvertedBefore is { } convertedBefore)
        {
            var instant = Latest(convertedBefore);
            orders = orders.Where(o => (o.PaidAt ?? o.PlacedAt) < instant);
        }
        return orders;
    }

    private static SqliteParameter Texts(string name, IReadOnlyList<string> texts) => new(name, JsonSerializer.Serialize(texts, JsonSerializerOptions.Default));

    /// <summary>Before a date has begun in any zone.</summary>
    public static DateTimeOffset Earliest(DateOnly date) => new(date == DateOnly.MinValue ? DateTime.MinValue : date.AddDays(-1).ToDateTime(TimeOnly.MinValue), TimeSpan.Zero);

    /// <summary>After a date has begun in every zone.</summary>
    public static DateTimeOffset Latest(DateOnly date) => new(date == DateOnly.MaxValue ? DateTime.MaxValue : date.AddDays(1).ToDateTime(TimeOnly.MinValue), TimeSpan.Zero);
}
