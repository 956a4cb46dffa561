using System.Globalization;
using System.Text.Json;
using EvenSplit.Core;

namespace EvenSplit.StandIns.Shop;

/// <summary>What the shop reports, as events in the documented format.</summary>
internal static class ShopEvents
{
    public static OutgoingEvent Placed(ShopOrder order, ShopProduct product) => Event("order", new
    {
        order_id = order.Id,
        channel = "shop",
        placed_at = Iso(order.PlacedAt),
        currency = "EUR",
        customer = order.IsReturning ? "returning" : "new",
        customer_key = order.Customer,
        prices_include_tax = true,
        coupon_codes = order.Code.Length > 0 ? new[] { order.Code } : [],
        origin_order = order.Origin,
        test = order.IsTest,
        visitor = order.Visitor,
        lines = new[]
        {
            new { line_id = "1", product = product.Id, quantity = order.Quantity, unit_price = Major(order.UnitPrice), line_tax = Major(order.Tax), requires_shipping = product.Ships, payment_number = order.PaymentNumber },
        },
    });

    public static OutgoingEvent Paid(ShopOrder order) =>
        Event("payment", new { order_id = order.Id, paid_at = Iso(order.PaidAt!.Value), processor = "card", processing_fee = Major(order.Fee) });

    public static OutgoingEvent TakenBack(ShopOrder order, string refundId, string kind, DateTimeOffset at, long disputeFee) => kind == "cancel"
        ? Event("refund", new { refund_id = refundId, order_id = order.Id, at = Iso(at), kind })
        : Event("refund", new
        {
            refund_id = refundId,
            order_id = order.Id,
            at = Iso(at),
            kind,
            dispute_fee = Major(disputeFee),
            lines = new[] { new { line_id = "1", quantity = order.Quantity, goods = Major(order.Charged - order.Tax), tax = Major(order.Tax) } },
        });

    private static OutgoingEvent Event(string type, object data) =>
        new(Guid.CreateVersion7().ToString("N"), JsonSerializer.Serialize(new { type, data }));

    private static string Major(long cents) => new Money(cents, ShopCatalogue.Euro).ToMajorText();

    private static string Iso(DateTimeOffset at) => at.ToString("yyyy-MM-dd'T'HH:mm:ss.fffffff'Z'", CultureInfo.InvariantCulture);
}
