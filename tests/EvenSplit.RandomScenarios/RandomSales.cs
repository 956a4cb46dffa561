using System.Globalization;
using System.Text.Json.Nodes;
using static EvenSplit.RandomScenarios.RandomScenario;

namespace EvenSplit.RandomScenarios;

/// <summary>Orders one after another, and the refunds that come of them.</summary>
internal sealed class RandomSales(
    Dice dice, string[] products, string[] payees, Dictionary<string, string[]> variants, DateOnly firstDay, int days)
{
    /// <summary>Early orders that later ones may renew.</summary>
    private readonly List<string> _origins = [];

    public List<JsonObject> Refunds { get; } = [];

    public JsonObject Order(int number, int linesAtMost)
    {
        var id = $"o{number}";
        var placedAt = new DateTimeOffset(firstDay, TimeOnly.MinValue, TimeSpan.Zero).AddMinutes(dice.Between(0, days * 24 * 60));
        // Some are paid at the very same instant as others, some days later, some never.
        if (dice.Chance(0.1)) placedAt = new DateTimeOffset(placedAt.Date, TimeSpan.Zero).AddHours(12);
        var paidAt = dice.Chance(0.05) ? (DateTimeOffset?)null : dice.Chance(0.7) ? placedAt : placedAt.AddHours(dice.Between(0, 200));
        var inclusive = dice.Chance(0.5);
        var lines = Enumerable.Range(0, dice.Between(1, linesAtMost)).Select(i => Line($"l{i}", inclusive)).ToArray();
        var left = lines.Sum(l => l.Quantity * l.UnitPrice - l.Discount);
        var order = Trim(new JsonObject
        {
            ["id"] = id,
            ["channel"] = dice.One("ch0", "ch1", "ch2", "elsewhere"),
            ["currency"] = dice.One("EUR", "EUR", "EUR", "EUR", "USD", "JPY"),
            ["placedAt"] = Instant(placedAt),
            ["paidAt"] = paidAt is { } paid ? Instant(paid) : null,
            ["processor"] = dice.Chance(0.9) ? dice.One("pr0", "pr1", "pr1", "prX") : null,
            ["test"] = dice.Chance(0.02) ? true : null,
            ["pricesIncludeTax"] = inclusive,
            ["customer"] = dice.One("new", "returning"),
            ["customerKey"] = dice.Chance(0.6) ? $"k{dice.Between(0, 9)}" : null,
            ["originOrderId"] = dice.Chance(0.15) ? (_origins.Count > 0 && dice.Chance(0.9) ? dice.OneOf(_origins) : "nowhere") : null,
            ["signedOffAt"] = dice.Chance(0.6) ? Instant(placedAt.AddHours(dice.Between(0, 2000))) : null,
            ["discount"] = dice.Chance(0.3) ? (long)dice.Between(0, (int)(left / 5)) : null,
            ["shipping"] = dice.Chance(0.5) ? new JsonObject { ["amount"] = 600 + dice.Between(0, 900), ["tax"] = dice.Between(0, 200) } : null,
            ["processingFee"] = Sometimes(0.3, 400),
            ["channelFee"] = Sometimes(0.2, 300),
            ["rebate"] = Sometimes(0.1, 300),
            ["manualPayee"] = dice.Chance(0.1) ? dice.OneOf(payees) : null,
            ["codes"] = dice.Chance(0.4) ? Strings(dice.Some(["nobody", .. Enumerable.Range(0, 3).Select(_ => Code())], 3).Distinct()) : null,
            ["clicks"] = dice.Chance(0.5) ? new JsonArray([.. Enumerable.Range(0, dice.Between(1, 3)).Select(_ => (JsonNode)new JsonObject
            {
                ["payee"] = dice.OneOf(payees),
                ["at"] = Instant(placedAt.AddHours(-dice.Between(-30, 1500))),
            })]) : null,
            ["lines"] = new JsonArray([.. lines.Select(l => (JsonNode)l.Json)]),
        });
        if (_origins.Count < 200 && dice.Chance(0.3)) _origins.Add(id);
        if (dice.Chance(0.25)) Refund(id, number, paidAt ?? placedAt, lines);
        return order;
    }

    private string Code() => dice.Chance(0.5) ? $"code{dice.Between(0, payees.Length - 1)}" : $"TWO words {dice.Between(0, payees.Length - 1)}";

    private (string Id, long Quantity, long UnitPrice, long Discount, long Tax, JsonObject Json) Line(string id, bool inclusive)
    {
        var product = dice.OneOf(products);
        var quantity = (long)dice.Between(1, 4);
        var unitPrice = dice.Chance(0.05) ? 0L : dice.Between(1, 9000);
        var discount = dice.Chance(0.2) ? dice.Between(0, (int)(quantity * unitPrice / 3)) : 0L;
        var tax = dice.Chance(0.8) ? (quantity * unitPrice - discount) / (inclusive ? 6 : 5) : 0L;
        return (id, quantity, unitPrice, discount, tax, Trim(new JsonObject
        {
            ["id"] = id,
            ["product"] = product,
            ["variant"] = variants[product].Length > 0 && dice.Chance(0.7) ? dice.OneOf(variants[product]) : null,
            ["quantity"] = quantity,
            ["unitPrice"] = unitPrice,
            ["discount"] = discount == 0 ? null : discount,
            ["tax"] = tax == 0 ? null : tax,
            ["requiresShipping"] = dice.Chance(0.4) ? true : null,
            ["paymentNumber"] = dice.Chance(0.3) ? dice.Between(0, 5) : null,
        }));
    }

    private void Refund(string order, int number, DateTimeOffset paidAt, (string Id, long Quantity, long UnitPrice, long Discount, long Tax, JsonObject Json)[] lines)
    {
        for (var i = 0; i < dice.One(1, 1, 1, 2, 3); i++)
        {
            var kind = dice.One("refund", "refund", "refund", "chargeback", "cancel");
            // A few are dated before the payment, a few ask for more than is left.
            Refunds.Add(Trim(new JsonObject
            {
                ["id"] = $"r{number}-{i}",
                ["order"] = order,
                ["at"] = Instant(paidAt.AddHours(dice.Between(-20, 1200))),
                ["kind"] = kind,
                ["shipping"] = Sometimes(0.3, 700),
                ["shippingTax"] = Sometimes(0.3, 60),
                ["processingFeeReturned"] = Sometimes(0.3, 120),
                ["disputeFee"] = kind == "chargeback" ? dice.Between(0, 1500) : null,
                ["lines"] = kind == "cancel" ? null : new JsonArray([.. lines.Where(_ => dice.Chance(0.7)).Select(l => (JsonNode)new JsonObject
                {
                    ["line"] = l.Id,
                    ["quantity"] = dice.Between(0, (int)l.Quantity),
                    ["goods"] = (l.Quantity * l.UnitPrice - l.Discount - l.Tax) * dice.One(1, 2, 4, 4) / 4,
                    ["tax"] = l.Tax * dice.One(0, 1, 2) / 2,
                })]),
            }));
        }
    }

    private JsonNode? Sometimes(double chance, int most) => dice.Chance(chance) ? dice.Between(0, most) : null;

    private string Instant(DateTimeOffset at) => dice.Chance(0.5)
        ? at.ToString("yyyy-MM-dd'T'HH:mm:sszzz", CultureInfo.InvariantCulture)
        : at.ToOffset(TimeSpan.FromHours(9)).ToString("yyyy-MM-dd'T'HH:mm:sszzz", CultureInfo.InvariantCulture);
}
