using EvenSplit.Core;

namespace EvenSplit.Formats.Csv;

/// <summary>The rows of one order or refund, read: the thing itself, or the faults that keep it out.</summary>
public sealed record RowGroup<T>(string Id, IReadOnlyList<CsvRow> Rows, T? Value, IReadOnlyList<RowFault> Faults) where T : class;

/// <summary>orders.csv: a row is an order line, the order's own columns repeat; rows of one order follow each other.</summary>
public static class OrdersCsv
{
    /// <summary>What is the same in all rows of an order.</summary>
    private static readonly string[] Repeated = [.. OrderColumns.All.OfWhole().Except(["order_id"])];

    public static CsvColumns Columns { get; } = OrderColumns.All.OfFile("orders") with { OfWhole = Repeated };

    /// <summary>Reads order by order; products, variants and payees must be known to the rulebook.</summary>
    public static IEnumerable<RowGroup<Order>> Read(IEnumerable<CsvRow> rows, Rulebook rules) =>
        RowGroups.ByColumn(rows, "order_id").Select(g => ReadOrder(g.Id, g.Rows, rules));

    private static RowGroup<Order> ReadOrder(string id, IReadOnlyList<CsvRow> rows, Rulebook rules)
    {
        var faults = new List<RowFault>();
        var first = new CellReader(rows[0], rules.Policy.Time);
        if (id.Length == 0) first.Refuse("order_id", "the shop's id of the order");
        var currency = first.Currency("currency");
        var order = new Order
        {
            Id = new OrderId(id),
            Channel = new ChannelId(first.Required("channel")),
            Currency = currency,
            PlacedAt = first.Instant("placed_at"),
            PaidAt = first.OptionalInstant("paid_at"),
            Processor = first.Optional("processor") is { } processor ? new ProcessorId(processor) : null,
            IsTest = first.YesNo("test"),
            PricesIncludeTax = first.YesNo("prices_include_tax"),
            Customer = Customer(first),
            CustomerKey = first.Optional("customer_key"),
            Origin = first.Optional("origin_order") is { } origin ? new OrderId(origin) : null,
            Discount = first.Amount("order_discount", currency),
            Shipping = first.Amount("shipping", currency),
            ShippingTax = first.Amount("shipping_tax", currency),
            ProcessingFee = first.OptionalAmount("processing_fee", currency),
            ChannelFee = first.OptionalAmount("channel_fee", currency),
            Rebate = first.OptionalAmount("rebate", currency),
            ManualPayee = first.Optional("manual_payee") is { } payee ? new PayeeId(payee) : null,
            Codes = rows[0]["coupon_codes"].Split(' ', StringSplitOptions.RemoveEmptyEntries),
            Lines = rows.Select((row, i) => ReadLine(i == 0 ? first : new CellReader(row, rules.Policy.Time), row, rows[0], currency, faults)).ToArray(),
        };
        faults.AddRange(OrderChecks.Of(order, rows, rules, read: faults.Count == 0).ToArray());
        return new RowGroup<Order>(id, rows, faults.Count == 0 ? order : null, faults);
    }

    private static OrderLine ReadLine(CellReader cells, CsvRow row, CsvRow first, Currency currency, List<RowFault> faults)
    {
        foreach (var column in Repeated)
        {
            if (row[column] != first[column]) cells.Refuse(column, $"'{first[column]}' as in row {first.Line}: it is the same order");
        }
        var product = new ProductId(cells.Required("product"));
        var variant = cells.Optional("variant") is { } v ? new VariantId(v) : (VariantId?)null;
        var line = new OrderLine
        {
            Id = new LineId(cells.Required("line_id")),
            Product = product,
            Variant = variant,
            Quantity = cells.Count("quantity", 1, "a whole number of 1 or more"),
            UnitPrice = cells.Amount("unit_price", currency),
            Discount = cells.Amount("line_discount", currency),
            Tax = cells.Amount("line_tax", currency),
            RequiresShipping = cells.YesNo("requires_shipping"),
            PaymentNumber = row["payment_number"].Length == 0 ? null : (int)cells.Count("payment_number", 0, "0 for a trial, 1 for the first payment, 2 and up for renewals"),
        };
        if (row["unit_price"].Length == 0) cells.Refuse("unit_price", "an amount with a decimal point, such as 12.50");
        faults.AddRange(cells.Faults);
        return line;
    }

    private static CustomerKind Customer(CellReader cells)
    {
        switch (cells.Optional("customer")?.ToLowerInvariant())
        {
            case null or "new": return CustomerKind.New;
            case "returning": return CustomerKind.Returning;
            default:
                cells.Refuse("customer", "new or returning");
                return CustomerKind.New;
        }
    }
}
