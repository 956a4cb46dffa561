using EvenSplit.Core;

namespace EvenSplit.Formats.Csv;

/// <summary>A column of a file of sales. Files, events and the form by hand have the same; what a report says is the same when all its facts are.</summary>
/// <param name="Fact">What the column says of the whole, or of one of its lines; null where the report is not about it.</param>
/// <param name="IsOfLine">Whether it is said anew for each line.</param>
public sealed record SalesColumn<TWhole, TLine>(string Name, bool IsRequired, bool IsOfLine, Func<TWhole, object?>? Fact, Func<TLine, object?>? LineFact)
{
    public static SalesColumn<TWhole, TLine> About(string name, bool required = false) => new(name, required, false, null, null);

    public static SalesColumn<TWhole, TLine> Whole(string name, Func<TWhole, object?> fact, bool required = false) => new(name, required, false, fact, null);

    public static SalesColumn<TWhole, TLine> Line(string name, Func<TLine, object?> fact, bool required = false) => new(name, required, true, null, fact);
}

/// <summary>The one table of what is reported of orders, in the order in which it is fingerprinted.</summary>
public static class OrderColumns
{
    public static IReadOnlyList<SalesColumn<Order, OrderLine>> All { get; } =
    [
        // Tells which order it is.
        SalesColumn<Order, OrderLine>.About("order_id", required: true),
        Of("channel", o => o.Channel.Value, required: true), Of("currency", o => o.Currency.Code, required: true), Of("placed_at", o => o.PlacedAt.UtcTicks, required: true), Of("paid_at", o => o.PaidAt?.UtcTicks),
        Of("processor", o => o.Processor?.Value), Of("test", o => o.IsTest), Of("prices_include_tax", o => o.PricesIncludeTax), Of("customer", o => o.Customer), Of("customer_key", o => o.CustomerKey),
        Of("origin_order", o => o.Origin?.Value), Of("order_discount", o => o.Discount), Of("shipping", o => o.Shipping), Of("shipping_tax", o => o.ShippingTax), Of("processing_fee", o => o.ProcessingFee),
        Of("channel_fee", o => o.ChannelFee), Of("rebate", o => o.Rebate), Of("manual_payee", o => o.ManualPayee?.Value), Of("coupon_codes", o => o.Codes),
        // Whose clicks are candidates; the clicks come in by themselves.
        SalesColumn<Order, OrderLine>.About("visitor"),
        // What a product that the catalogue does not have may be called there.
        SalesColumn<Order, OrderLine>.About("product_name") with { IsOfLine = true },
        OfLine("line_id", l => l.Id.Value, required: true), OfLine("product", l => l.Product.Value, required: true), OfLine("variant", l => l.Variant?.Value), OfLine("quantity", l => l.Quantity, required: true),
        OfLine("unit_price", l => l.UnitPrice, required: true), OfLine("line_discount", l => l.Discount), OfLine("line_tax", l => l.Tax), OfLine("requires_shipping", l => l.RequiresShipping), OfLine("payment_number", l => l.PaymentNumber),
    ];

    private static SalesColumn<Order, OrderLine> Of(string name, Func<Order, object?> fact, bool required = false) => SalesColumn<Order, OrderLine>.Whole(name, fact, required);

    private static SalesColumn<Order, OrderLine> OfLine(string name, Func<OrderLine, object?> fact, bool required = false) => SalesColumn<Order, OrderLine>.Line(name, fact, required);
}

/// <summary>The one table of what is reported of refunds, in the order in which it is fingerprinted.</summary>
public static class RefundColumns
{
    public static IReadOnlyList<SalesColumn<Refund, RefundLine>> All { get; } =
    [
        SalesColumn<Refund, RefundLine>.About("refund_id", required: true),
        Of("order_id", r => r.Order.Value, required: true), Of("at", r => r.At.UtcTicks, required: true), Of("kind", r => r.Kind, required: true),
        Of("shipping", r => r.Shipping), Of("shipping_tax", r => r.ShippingTax), Of("processing_fee_returned", r => r.ProcessingFeeReturned), Of("dispute_fee", r => r.DisputeFee),
        OfLine("line_id", l => l.Line.Value), OfLine("quantity", l => l.Quantity), OfLine("goods", l => l.Goods), OfLine("tax", l => l.Tax),
    ];

    private static SalesColumn<Refund, RefundLine> Of(string name, Func<Refund, object?> fact, bool required = false) => SalesColumn<Refund, RefundLine>.Whole(name, fact, required);

    private static SalesColumn<Refund, RefundLine> OfLine(string name, Func<RefundLine, object?> fact) => SalesColumn<Refund, RefundLine>.Line(name, fact);
}

/// <summary>What readers and fingerprints take from the tables.</summary>
public static class SalesColumns
{
    /// <summary>The columns as a file of this kind has them.</summary>
    public static CsvColumns OfFile<TWhole, TLine>(this IReadOnlyList<SalesColumn<TWhole, TLine>> columns, string kind) =>
        new(kind, [.. columns.Where(c => c.IsRequired).Select(c => c.Name)], [.. columns.Where(c => !c.IsRequired).Select(c => c.Name)]);

    public static string[] OfLines<TWhole, TLine>(this IReadOnlyList<SalesColumn<TWhole, TLine>> columns) => [.. columns.Where(c => c.IsOfLine).Select(c => c.Name)];

    public static string[] OfWhole<TWhole, TLine>(this IReadOnlyList<SalesColumn<TWhole, TLine>> columns) => [.. columns.Where(c => !c.IsOfLine).Select(c => c.Name)];

    /// <summary>Everything a report says, one fact after another: two reports are the same when these are.</summary>
    public static IEnumerable<object?> Facts<TWhole, TLine>(this IReadOnlyList<SalesColumn<TWhole, TLine>> columns, TWhole whole, IEnumerable<TLine> lines)
    {
        foreach (var fact in columns.Where(c => c.Fact is not null).Select(c => c.Fact!(whole)))
        {
            if (fact is not IReadOnlyList<string> list) yield return fact;
            else
            {
                foreach (var item in list)
                {
                    // So that one more code is not mistaken for what comes after the codes.
                    yield return "code";
                    yield return item;
                }
            }
        }
        foreach (var line in lines)
        {
            foreach (var column in columns.Where(c => c.LineFact is not null)) yield return column.LineFact!(line);
        }
    }
}
