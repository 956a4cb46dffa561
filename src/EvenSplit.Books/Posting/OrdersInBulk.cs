using System.Data.Common;
using System.Text.Json;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Storage;

namespace EvenSplit.Books.Posting;

/// <summary>Reads some thousand orders at once, straight from the columns: a tenth of the time that entities take. For reading only.</summary>
internal sealed class OrdersInBulk(BookDbContext db)
{
    /// <param name="keys">Ascending.</param>
    /// <returns>The orders in the order of their keys.</returns>
    public IReadOnlyList<(long Key, Order Order)> Read(IReadOnlyList<long> keys)
    {
        db.Database.OpenConnection();
        try
        {
            return Read(JsonSerializer.Serialize(keys), keys.Count);
        }
        finally
        {
            db.Database.CloseConnection();
        }
    }

    private List<(long Key, Order Order)> Read(string text, int count)
    {
        var lines = Parts(text, "SELECT OrderId, LineId, Product, Variant, Quantity, UnitPrice, Discount, Tax, RequiresShipping, PaymentNumber FROM OrderLines", Line, " AND Position IS NOT NULL");
        var codes = Parts(text, "SELECT OrderId, Code FROM OrderCodes", row => row.GetString(1));
        var clicks = Parts(text, "SELECT OrderId, Payee, At FROM OrderClicks", row => new Click(new PayeeId(row.GetString(1)), Instant(row, 2)));
        var orders = new List<(long, Order)>(count);
        using var command = Command(text,
            """
            SELECT Id, OrderId, Channel, Currency, PlacedAt, PaidAt, Processor, IsTest, PricesIncludeTax, Customer, CustomerKey, Origin, Discount, Shipping, ShippingTax,
                ActualProcessingFee, ActualChannelFee, ActualRebate, ManualPayee, SignedOffAt FROM Orders WHERE Id IN (SELECT value FROM json_each($keys)) ORDER BY Id
            """);
        using var row = command.ExecuteReader();
        while (row.Read())
        {
            var key = row.GetInt64(0);
            orders.Add((key, new Order
            {
                Id = new OrderId(row.GetString(1)),
                Channel = new ChannelId(row.GetString(2)),
                Currency = Currency.Of(row.GetString(3)),
                PlacedAt = Instant(row, 4),
                PaidAt = row.IsDBNull(5) ? null : Instant(row, 5),
                Processor = Text(row, 6) is { } processor ? new ProcessorId(processor) : null,
                IsTest = row.GetBoolean(7),
                PricesIncludeTax = row.GetBoolean(8),
                Customer = (CustomerKind)row.GetInt32(9),
                CustomerKey = Text(row, 10),
                Origin = Text(row, 11) is { } origin ? new OrderId(origin) : null,
                Discount = row.GetInt64(12),
                Shipping = row.GetInt64(13),
                ShippingTax = row.GetInt64(14),
                ProcessingFee = Minor(row, 15),
                ChannelFee = Minor(row, 16),
                Rebate = Minor(row, 17),
                ManualPayee = Text(row, 18) is { } payee ? new PayeeId(payee) : null,
                SignedOffAt = row.IsDBNull(19) ? null : Instant(row, 19),
                Lines = lines[key],
                Codes = codes.GetValueOrDefault(key) ?? [],
                Clicks = clicks.GetValueOrDefault(key) ?? [],
            }));
        }
        return orders;
    }

    private static OrderLine Line(DbDataReader row) => new()
    {
        Id = new LineId(row.GetString(1)),
        Product = new ProductId(row.GetString(2)),
        Variant = Text(row, 3) is { } variant ? new VariantId(variant) : null,
        Quantity = row.GetInt64(4),
        UnitPrice = row.GetInt64(5),
        Discount = row.GetInt64(6),
        Tax = row.GetInt64(7),
        RequiresShipping = row.GetBoolean(8),
        PaymentNumber = row.IsDBNull(9) ? null : row.GetInt32(9),
    };

    /// <summary>What belongs to each order, in the order of its positions.</summary>
    private Dictionary<long, List<T>> Parts<T>(string keys, string select, Func<DbDataReader, T> read, string and = "")
    {
        var parts = new Dictionary<long, List<T>>();
        using var command = Command(keys, select + " WHERE OrderId IN (SELECT value FROM json_each($keys))" + and + " ORDER BY OrderId, Position");
        using var row = command.ExecuteReader();
        while (row.Read())
        {
            var key = row.GetInt64(0);
            if (!parts.TryGetValue(key, out var list)) parts[key] = list = [];
            list.Add(read(row));
        }
        return parts;
    }

    private DbCommand Command(string keys, string sql)
    {
        var command = db.Database.GetDbConnection().CreateCommand();
        command.Transaction = db.Database.CurrentTransaction?.GetDbTransaction();
        command.CommandText = sql;
        var parameter = command.CreateParameter();
        (parameter.ParameterName, parameter.Value) = ("$keys", keys);
        command.Parameters.Add(parameter);
        return command;
    }

    private static string? Text(DbDataReader row, int column) => row.IsDBNull(column) ? null : row.GetString(column);

    private static long? Minor(DbDataReader row, int column) => row.IsDBNull(column) ? null : row.GetInt64(column);

    private static DateTimeOffset Instant(DbDataReader row, int column) => new(row.GetInt64(column), TimeSpan.Zero);
}
