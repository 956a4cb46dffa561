using System.Globalization;
using EvenSplit.Core;

namespace EvenSplit.Books.Tests.Changes;

/// <summary>Orders, refunds and clicks as a shop's files have them.</summary>
internal static class SalesFiles
{
    public static readonly string[] OrderColumns =
    [
        "order_id", "channel", "placed_at", "paid_at", "currency", "processor", "customer", "customer_key", "prices_include_tax", "order_discount", "shipping", "shipping_tax", "processing_fee",
        "channel_fee", "rebate", "coupon_codes", "manual_payee", "origin_order", "test", "line_id", "product", "variant", "quantity", "unit_price", "line_discount", "line_tax", "requires_shipping",
        "payment_number",
    ];

    public static string Orders(params IEnumerable<Order> orders) => File(OrderColumns, orders.SelectMany(Rows));

    public static string Refunds(params IEnumerable<(Refund Refund, Currency Currency)> refunds) => File(
        ["refund_id", "order_id", "at", "kind", "line_id", "quantity", "goods", "tax", "shipping", "shipping_tax", "processing_fee_returned", "dispute_fee"], refunds.SelectMany(r => Rows(r.Refund, r.Currency)));

    public static string Clicks(params IEnumerable<(string Payee, DateTimeOffset At, string Order)> clicks) =>
        File(["payee", "at", "order_id"], clicks.Select(c => new[] { c.Payee, Instant(c.At), c.Order }));

    private static IEnumerable<string[]> Rows(Order o) => o.Lines.Select(l => new[]
    {
        o.Id.Value, o.Channel.Value, Instant(o.PlacedAt), Instant(o.PaidAt), o.Currency.Code, o.Processor?.Value ?? "", o.Customer == CustomerKind.New ? "new" : "returning", o.CustomerKey ?? "", Yes(o.PricesIncludeTax),
        Amount(o.Discount, o.Currency), Amount(o.Shipping, o.Currency), Amount(o.ShippingTax, o.Currency), Amount(o.ProcessingFee, o.Currency), Amount(o.ChannelFee, o.Currency), Amount(o.Rebate, o.Currency),
        // A file has a space between codes, so that none can have one in it.
        string.Join(' ', o.Codes.Where(c => !c.Contains(' ', StringComparison.Ordinal))), o.ManualPayee?.Value ?? "", o.Origin?.Value ?? "", Yes(o.IsTest),
        l.Id.Value, l.Product.Value, l.Variant?.Value ?? "", l.Quantity.ToString(CultureInfo.InvariantCulture), Amount(l.UnitPrice, o.Currency), Amount(l.Discount, o.Currency), Amount(l.Tax, o.Currency),
        Yes(l.RequiresShipping), l.PaymentNumber?.ToString(CultureInfo.InvariantCulture) ?? "",
    });

    private static IEnumerable<string[]> Rows(Refund r, Currency currency)
    {
        var own = new[] { Amount(r.Shipping, currency), Amount(r.ShippingTax, currency), Amount(r.ProcessingFeeReturned, currency), Amount(r.DisputeFee, currency) };
        string[] about = [r.Id.Value, r.Order.Value, Instant(r.At), r.Kind.ToString().ToLowerInvariant()];
        if (r.Lines.Count == 0) yield return [.. about, "", "", "", "", .. own];
        for (var i = 0; i < r.Lines.Count; i++)
        {
            var line = r.Lines[i];
            yield return [.. about, line.Line.Value, line.Quantity.ToString(CultureInfo.InvariantCulture), Amount(line.Goods, currency), Amount(line.Tax, currency), .. i == 0 ? own : ["", "", "", ""]];
        }
    }

    private static string File(string[] columns, IEnumerable<string[]> rows) => string.Join('\n', rows.Select(r => string.Join(',', r.Select(Quoted))).Prepend(string.Join(',', columns))) + "\n";

    private static string Quoted(string cell) => cell.AsSpan().ContainsAny(",\"\n") ? $"\"{cell.Replace("\"", "\"\"", StringComparison.Ordinal)}\"" : cell;

    private static string Amount(long? minor, Currency currency) => minor is { } amount ? new Money(amount, currency).ToMajorText() : "";

    private static string Instant(DateTimeOffset? at) => at?.ToUniversalTime().ToString("yyyy-MM-ddTHH:mm:ss.fffffffZ", CultureInfo.InvariantCulture) ?? "";

    private static string Yes(bool value) => value ? "yes" : "";
}
