using System.Text;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;
using EvenSplit.Formats.Events;

namespace EvenSplit.Formats.Tests;

/// <summary>Events are read into the rows a file would have; what cannot be read says where; signatures hold for just what was signed.</summary>
public sealed class SalesEventTests
{
    private static SalesEvent Read(string json) => SalesEventJson.Read(Encoding.UTF8.GetBytes(json));

    private static string Fault(string json) => Assert.Throws<EventFaultException>(() => Read(json)).Message;

    [Fact]
    public void An_order_becomes_a_row_a_line()
    {
        var read = Read("""
            { "type": "order", "data": { "order_id": "A", "channel": "shop", "prices_include_tax": true, "test": null, "coupon_codes": ["ONE", "TWO"],
              "lines": [ { "line_id": "1", "quantity": 2, "unit_price": "12.50" }, { "line_id": "2", "quantity": 1, "unit_price": "3.00" } ] } }
            """);
        Assert.Equal((SalesEventKind.Order, "A", 2), (read.Kind, read.Order, read.Rows.Count));
        Assert.Equal(("ONE TWO", "yes", "", "2"), (read.Rows[0]["coupon_codes"], read.Rows[0]["prices_include_tax"], read.Rows[0]["test"], read.Rows[0]["quantity"]));
        Assert.Equal(("shop", "3.00"), (read.Rows[1]["channel"], read.Rows[1]["unit_price"]));
    }

    [Fact]
    public void What_is_the_refunds_own_stands_in_its_first_row_only()
    {
        var read = Read("""{ "type": "refund", "data": { "refund_id": "R", "order_id": "A", "at": "2026-10-01T00:00:00Z", "kind": "refund", "shipping": "4.00", "lines": [ { "line_id": "1" }, { "line_id": "2" } ] } }""");
        Assert.Equal(["4.00", ""], read.Rows.Select(r => r.GetValueOrDefault("shipping", "")));
        Assert.Single(Read("""{ "type": "refund", "data": { "refund_id": "R", "order_id": "A", "at": "2026-10-01T00:00:00Z", "kind": "cancel" } }""").Rows);
    }

    [Theory]
    [InlineData("[]", "Expected an object with type and data.")]
    [InlineData("{\"type\":\"order\"}", "data: expected an object.")]
    [InlineData("{\"type\":\"orders\",\"data\":{}}", "type: 'orders' is not an event; expected order, payment, refund or click.")]
    [InlineData("{\"type\":\"order\",\"data\":{\"order_id\":\"A\"}}", "data.lines: expected at least one line.")]
    [InlineData("{\"type\":\"order\",\"data\":{\"lines\":[{}]}}", "data.order_id: is missing.")]
    [InlineData("{\"type\":\"order\",\"data\":{\"order_id\":\"A\",\"lines\":[{\"unit_price\":12.5}]}}", "data.lines[0].unit_price: expected a decimal in quotes, such as \"12.50\": a number may have been rounded on its way.")]
    [InlineData("{\"type\":\"order\",\"data\":{\"order_id\":\"A\",\"lines\":[{\"colour\":\"red\"}]}}", "data.lines[0].colour: there is no such field.")]
    [InlineData("{\"type\":\"order\",\"data\":{\"order_id\":{},\"lines\":[{}]}}", "data.order_id: expected a text.")]
    [InlineData("{\"type\":\"payment\",\"data\":{\"order_id\":\"A\"}}", "data.paid_at: is missing.")]
    [InlineData("{\"type\":\"click\",\"data\":{\"payee\":\"a\",\"at\":\"now\"},\"more\":1}", "more: there is no such field; an event has type, data and perhaps timestamp.")]
    [InlineData("{\"type\":\"order\",", "This is not JSON that can be read: line 1, byte 16.")]
    public void A_body_that_is_no_event_says_where(string json, string message) => Assert.Equal(message, Fault(json));

    [Fact]
    public void Deep_doubled_and_broken_bodies_are_refused()
    {
        Assert.StartsWith("This is not JSON", Fault(new string('[', 100_000)), StringComparison.Ordinal);
        Assert.StartsWith("This is not JSON", Fault("{\"type\":\"order\",\"type\":\"click\",\"data\":{}}"), StringComparison.Ordinal);
        Assert.Throws<EventFaultException>(() => SalesEventJson.Read(new byte[] { 0x7b, 0x22, 0xff, 0xfe, 0x22, 0x3a, 0x31, 0x7d }));
        Assert.StartsWith("data.order_id: at most", Fault($$"""{ "type": "payment", "data": { "order_id": "{{new string('x', 5000)}}", "paid_at": "x" } }"""), StringComparison.Ordinal);
        var lines = string.Join(',', Enumerable.Repeat("{}", 1001));
        Assert.StartsWith("data.lines: at most", Fault($$"""{ "type": "order", "data": { "order_id": "A", "lines": [{{lines}}] } }"""), StringComparison.Ordinal);
    }

    [Fact]
    public void A_signature_holds_for_just_what_was_signed()
    {
        var secret = WebhookSignature.NewSecret();
        var now = new DateTimeOffset(2026, 11, 3, 9, 0, 0, TimeSpan.Zero);
        var body = "{}"u8.ToArray();
        var at = now.ToUnixTimeSeconds();
        var signature = WebhookSignature.Sign(secret, "id", at, body);
        bool IsRight(string id = "id", long? time = null, string? header = null, string? other = null, string text = "{}") =>
            WebhookSignature.IsRight(other ?? secret, id, $"{time ?? at}", header ?? signature, Encoding.UTF8.GetBytes(text), now);
        Assert.True(IsRight());
        Assert.True(IsRight(header: $"v1,AAAA v0,x {signature}"));
        Assert.False(IsRight(id: "id2"));
        Assert.False(IsRight(time: at + 1));
        Assert.False(IsRight(text: "{ }"));
        Assert.False(IsRight(other: WebhookSignature.NewSecret()));
        Assert.False(IsRight(header: "v1,not base64!"));
        Assert.False(IsRight(header: signature[3..]));
        Assert.False(WebhookSignature.IsRight(secret, "id", $"{at}", signature, body, now.AddMinutes(6)));
        Assert.False(WebhookSignature.IsRight(secret, "id", $"{at}", signature, body, now.AddMinutes(-6)));
        Assert.False(WebhookSignature.IsRight(secret, "id", "yesterday", signature, body, now));
    }

    [Fact]
    public void The_specifications_own_example_is_right() =>
        Assert.Equal("v1,g0hM9SsE+OTPJTGt/tmIKtSyZlE3uFJELVlNIOLJ1OE=", WebhookSignature.Sign("whsec_MfKQ9r8GKYqrTwjUPD8ILPZIo2LaLaSw", "msg_p5jXN8AQM9LWM0D4loKWxJek", 1614265330, "{\"test\": 2432232314}"u8));

    [Fact]
    public void A_payment_is_the_first_that_counts()
    {
        var (payment, faults) = PaymentReport.Read(new CsvRow(1, new Dictionary<string, string> { ["paid_at"] = "2026-10-01T10:00:00Z", ["processing_fee"] = "0.67" }), BookTime.Of("Europe/Dublin"), Currency.Of("EUR"));
        Assert.Empty(faults);
        var order = new Order { Id = new OrderId("A"), Channel = new ChannelId("shop"), Currency = Currency.Of("EUR"), PlacedAt = default, Lines = [] };
        var paid = payment!.Of(order);
        Assert.Equal((payment.PaidAt, 67L), (paid.PaidAt!.Value, paid.ProcessingFee!.Value));
        Assert.Equal(payment.PaidAt, (payment with { PaidAt = payment.PaidAt.AddDays(1) }).Of(paid).PaidAt);
    }
}
