using System.Globalization;
using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Json.Nodes;

namespace EvenSplit.RandomScenarios;

/// <summary>
/// Makes valid scenario files that use everything a scenario can say. The same seed and size give the same file.
/// </summary>
public sealed class RandomScenario
{
    private static readonly DateOnly FirstDay = new(2025, 1, 1);
    private static readonly string[] Currencies = ["EUR", "EUR", "EUR", "USD", "JPY", "KWD"];
    private const int Days = 420;

    private readonly Dice _dice;
    private readonly ScenarioSize _size;
    private readonly string[] _products;
    private readonly string[] _payees;
    private readonly Dictionary<string, string[]> _variants = [];
    private readonly List<(string Id, string Basis)> _agreements = [];

    private RandomScenario(int seed, ScenarioSize size)
    {
        (_dice, _size) = (new Dice(seed), size);
        // Bytes above ASCII, surrogate pairs among them, show whether ids are compared as UTF-8.
        _products = Ids("g", size.Products);
        _payees = Ids("p", size.Payees, "ö", "\uFF5E", "🌱");
        foreach (var (product, i) in _products.Select((p, i) => (p, i))) _variants[product] = Ids($"v{i}-", _dice.Between(0, 2));
        for (var i = 0; i < size.Agreements; i++) _agreements.Add(($"a{i}", _dice.One("referral", "referral", "contribution", "supply")));
    }

    public static byte[] Bytes(int seed, ScenarioSize? size = null)
    {
        using var output = new MemoryStream();
        Write(output, seed, size);
        return output.ToArray();
    }

    public static void Write(Stream output, int seed, ScenarioSize? size = null)
    {
        using var json = new Utf8JsonWriter(output, new JsonWriterOptions { Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping });
        new RandomScenario(seed, size ?? new ScenarioSize()).Write(json);
    }

    private void Write(Utf8JsonWriter json)
    {
        json.WriteStartObject();
        json.WritePropertyName("book");
        new JsonObject
        {
            ["currency"] = "EUR",
            ["timeZone"] = _dice.One("Europe/Dublin", "Asia/Tokyo", "America/St_Johns", "UTC"),
            ["clickModel"] = _dice.One("first", "last"),
            ["allowSelfReferral"] = _dice.Chance(0.2),
        }.WriteTo(json);
        List(json, "rates", Rates());
        List(json, "processors", Enumerable.Range(0, 2).Select(i => new JsonObject
        {
            ["id"] = $"pr{i}",
            ["rate"] = _dice.Rate(0.05m),
            ["fixed"] = _dice.Between(0, 40),
            ["currency"] = _dice.OneOf(Currencies),
        }));
        List(json, "channels", Enumerable.Range(0, 3).Select(i => Trim(new JsonObject
        {
            ["id"] = $"ch{i}",
            ["feeRate"] = Maybe(0.6, () => _dice.Rate(0.2m)),
            ["feeFixed"] = MaybeMoney(0.4, 0, 50),
            ["currency"] = Maybe(0.5, () => _dice.OneOf(Currencies)),
            ["rebateRate"] = Maybe(0.4, () => _dice.Rate(0.1m)),
        })));
        List(json, "products", _products.Select(Product));
        List(json, "payees", _payees.Select(Payee));
        List(json, "agreements", _agreements.Select(a => Agreement(a.Id, a.Basis)));
        WriteSales(json);
        List(json, "adjustments", Enumerable.Range(0, _size.Payees / 2).Select(i => new JsonObject
        {
            ["id"] = $"adj{i}",
            ["payee"] = _dice.OneOf(_payees),
            ["on"] = Date(_dice.Between(0, Days)),
            ["amount"] = _dice.Between(-4000, 6000),
            ["currency"] = _dice.OneOf(Currencies),
            ["note"] = "for the reader",
        }));
        List(json, "runs", Enumerable.Range(0, _size.Runs).Select(i => Trim(new JsonObject
        {
            ["id"] = $"run{i}",
            ["asOf"] = Date(_dice.Between(20, Days + 60)),
            ["payees"] = _dice.Chance(0.3) ? Strings(_dice.Some(_payees, _payees.Length)) : null,
        })));
        json.WriteEndObject();
    }

    private IEnumerable<JsonObject> Rates()
    {
        var perEuro = new Dictionary<string, decimal> { ["USD"] = 1.1m, ["JPY"] = 165m, ["KWD"] = 0.34m };
        for (var day = -10; day < Days + 70; day += _dice.Between(1, 9))
        {
            foreach (var (currency, rate) in perEuro)
            {
                if (_dice.Chance(0.1)) continue;
                var value = Math.Round(rate * (1 + _dice.Between(-50, 50) / 1000m), 6);
                var inverse = currency == "KWD" && _dice.Chance(0.5);
                yield return Rate(day, inverse ? currency : "EUR", inverse ? "EUR" : currency, inverse ? Math.Round(1 / value, 6) : value);
            }
            if (_dice.Chance(0.3)) yield return Rate(day, "USD", "JPY", 150.25m + day / 100m);
        }

        JsonObject Rate(int day, string from, string to, decimal rate) => new()
        {
            ["date"] = Date(day),
            ["from"] = from,
            ["to"] = to,
            ["rate"] = rate.ToString(CultureInfo.InvariantCulture),
        };
    }

    private JsonObject Product(string id) => Trim(new JsonObject
    {
        ["id"] = id,
        ["variants"] = Strings(_variants[id]),
        ["collections"] = Strings(_dice.Some(["ca", "cb", "cc"], 2)),
        ["vendor"] = Maybe(0.5, () => _dice.OneOf(_payees)),
        ["unitCost"] = MaybeMoney(0.6, 0, 1500),
        ["costCurrency"] = Maybe(0.4, () => _dice.OneOf(Currencies)),
        ["returnDays"] = MaybeMoney(0.5, 0, 30),
    });

    private JsonObject Payee(string id)
    {
        var number = Array.IndexOf(_payees, id);
        return Trim(new JsonObject
        {
            ["id"] = id,
            ["role"] = _dice.One("affiliate", "collaborator", "vendor"),
            ["payoutCurrency"] = _dice.OneOf(Currencies),
            ["activeFrom"] = Date(_dice.Chance(0.8) ? -30 : _dice.Between(0, 200)),
            ["activeTo"] = Maybe(0.15, () => Date(_dice.Between(200, Days))),
            ["codes"] = _dice.Chance(0.7) ? Strings([$"CODE{number}", $"Two Words {number}"]) : null,
            ["customerKeys"] = _dice.Chance(0.3) ? Strings([$"k{_dice.Between(0, 9)}"]) : null,
            ["recruitedBy"] = Maybe(0.4, () => _dice.OneOf(Array.FindAll(_payees, p => p != id))),
            ["holdDays"] = MaybeMoney(0.3, 0, 60),
            ["onHold"] = _dice.Chance(0.05),
            ["minimum"] = MaybeMoney(0.4, 0, 8000),
            ["withholdingPercent"] = Maybe(0.3, () => _dice.Rate(0.3m)),
            ["transferFee"] = MaybeMoney(0.4, 0, 150),
            ["freeTransfers"] = MaybeMoney(0.3, 0, 3),
            ["advances"] = new JsonArray([.. Enumerable.Range(0, _dice.Chance(0.3) ? 2 : 0).Select(i => (JsonNode)new JsonObject
            {
                ["id"] = $"{id}-{9 - i}",
                ["on"] = Date(_dice.Between(0, 300)),
                ["amount"] = _dice.Between(500, 9000),
            })]),
            ["recoupPercent"] = Maybe(0.6, () => _dice.Rate(1m)),
            ["agreements"] = Memberships(),
            ["personalTerms"] = new JsonArray([.. PersonalTerms()]),
        });
    }

    private JsonArray Memberships()
    {
        var memberships = new JsonArray();
        var referrals = _dice.Some(_agreements.Where(a => a.Basis == "referral").ToArray(), 2);
        if (referrals.Count == 2)
        {
            // One referral agreement at a time: the second takes over where the first ends.
            var change = Date(_dice.Between(50, 300));
            memberships.Add(Membership(referrals[0].Id, Date(-60), change));
            memberships.Add(Membership(referrals[1].Id, change, null));
        }
        else if (referrals.Count == 1)
        {
            memberships.Add(Membership(referrals[0].Id, Date(_dice.Between(-60, 100)), Maybe(0.2, () => Date(_dice.Between(200, Days)))));
        }
        foreach (var (id, _) in _dice.Some(_agreements.Where(a => a.Basis != "referral").ToArray(), 2))
        {
            memberships.Add(Membership(id, Date(_dice.Between(-60, 60)), null));
        }
        return memberships;

        JsonObject Membership(string id, string from, JsonNode? to) => Trim(new JsonObject
        {
            ["id"] = id,
            ["from"] = from,
            ["to"] = to,
            ["products"] = _dice.Chance(0.2) ? Strings(_dice.Some(_products, _products.Length)) : null,
        });
    }

    private IEnumerable<JsonNode> PersonalTerms() => Enumerable.Range(0, _dice.Chance(0.2) ? _dice.Between(1, 2) : 0).Select(_ =>
    {
        var (agreement, basis) = _dice.OneOf(_agreements);
        var term = Term(basis);
        return (JsonNode)Trim(new JsonObject
        {
            ["agreement"] = agreement,
            ["from"] = Maybe(0.3, () => Date(_dice.Between(0, 200))),
            ["to"] = Maybe(0.2, () => Date(_dice.Between(201, 400))),
            ["scope"] = term["scope"]!.DeepClone(),
            ["cases"] = term["cases"]!.DeepClone(),
        });
    });

    private JsonObject Agreement(string id, string basis)
    {
        var froms = new[] { -60 }.Concat(_dice.Chance(0.4) ? [_dice.Between(60, 300)] : []);
        return new JsonObject
        {
            ["id"] = id,
            ["basis"] = basis,
            ["currency"] = _dice.OneOf(Currencies),
            ["versions"] = new JsonArray([.. froms.Select(from => (JsonNode)Trim(new JsonObject
            {
                ["from"] = Date(from),
                ["windowDays"] = MaybeMoney(0.7, 0, 90),
                ["holdDays"] = MaybeMoney(0.7, 0, 45),
                ["signOff"] = Maybe(0.15, () => "manual"),
                ["discountBorneBy"] = Maybe(0.5, () => _dice.One("shared", "house")),
                ["tax"] = Maybe(0.5, () => _dice.One("keep", "count", "pass")),
                ["shipping"] = Maybe(0.5, () => _dice.One("keep", "count", "pass")),
                ["rebate"] = Maybe(0.5, () => _dice.One("keep", "count", "pass")),
                ["deductProcessingFee"] = _dice.Chance(0.5),
                ["deductChannelFee"] = _dice.Chance(0.5),
                ["deductCost"] = _dice.Chance(0.4),
                ["afterReferral"] = _dice.Chance(0.4),
                ["lostFees"] = Maybe(0.6, () => _dice.One("house", "shared")),
                ["recruiterPercent"] = Maybe(0.4, () => _dice.Rate(0.1m)),
                ["recruiterOf"] = Maybe(0.4, () => _dice.One("base", "share")),
                ["terms"] = new JsonArray([.. Enumerable.Range(0, _dice.Between(0, 4)).Select(_ => (JsonNode)Term(basis))]),
            }))]),
        };
    }

    private JsonObject Term(string basis) => new()
    {
        ["scope"] = (_size.WideScopes || basis == "referral" ? _dice.Between(0, 5) : 1) switch
        {
            0 => new JsonObject { ["collection"] = _dice.One("ca", "cb", "cc", "never") },
            1 => new JsonObject { ["product"] = _dice.OneOf(_products) },
            2 when _variants.Values.Any(v => v.Length > 0) => new JsonObject { ["variant"] = _dice.OneOf(_variants.Values.SelectMany(v => v).ToArray()) },
            _ => new JsonObject { ["all"] = true },
        },
        ["cases"] = new JsonArray([.. Enumerable.Range(0, _dice.Between(1, 3)).Select(_ => (JsonNode)Case())]),
    };

    private JsonObject Case()
    {
        var when = Trim(new JsonObject
        {
            ["orderValueAtLeast"] = MaybeMoney(0.25, 0, 12000),
            ["paymentFrom"] = MaybeMoney(0.1, 0, 3),
            ["paymentTo"] = MaybeMoney(0.1, 3, 5),
            ["customer"] = Maybe(0.15, () => _dice.One("new", "returning")),
            ["salesAtLeast"] = MaybeMoney(0.15, 0, 60000),
            ["ordersAtLeast"] = MaybeMoney(0.15, 0, 8),
            ["earnedAtLeast"] = MaybeMoney(0.15, 0, 5000),
            ["window"] = Maybe(0.4, () => _dice.One("lifetime", "month", "quarter", "year")),
        });
        var rate = _dice.Chance(0.08) ? [] : Trim(new JsonObject
        {
            ["percent"] = Maybe(0.85, () => _dice.One(_dice.Rate(0.4m), "0.333333", "0.5", "1")),
            ["perUnit"] = MaybeMoney(0.2, 0, 250),
            ["perOrder"] = MaybeMoney(0.2, 0, 400),
            ["of"] = Maybe(0.25, () => _dice.One("payee", "house")),
        });
        return Trim(new JsonObject { ["when"] = _dice.Chance(0.4) ? null : when, ["rate"] = rate });
    }

    private void WriteSales(Utf8JsonWriter json)
    {
        var sold = new RandomSales(_dice, _products, _payees, _variants, FirstDay, Days);
        json.WriteStartArray("orders");
        for (var i = 0; i < _size.Orders; i++)
        {
            sold.Order(i, _size.LinesAtMost).WriteTo(json);
            if (json.BytesPending > 1 << 20) json.Flush();
        }
        json.WriteEndArray();
        List(json, "refunds", sold.Refunds);
    }

    private static void List(Utf8JsonWriter json, string name, IEnumerable<JsonObject> items)
    {
        json.WriteStartArray(name);
        foreach (var item in items) item.WriteTo(json);
        json.WriteEndArray();
    }

    private static string[] Ids(string prefix, int count, params string[] odd) =>
        [.. Enumerable.Range(0, count).Select(i => prefix + i + (odd.Length > 0 && i % 4 == 3 ? odd[i / 4 % odd.Length] : ""))];

    private static string Date(int day) => FirstDay.AddDays(day).ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);

    private JsonNode? Maybe(double chance, Func<string> value) => _dice.Chance(chance) ? value() : null;

    private JsonNode? MaybeMoney(double chance, int least, int most) => _dice.Chance(chance) ? _dice.Between(least, most) : null;

    internal static JsonArray Strings(IEnumerable<string> values) => new([.. values.Select(v => (JsonNode)v)]);

    /// <summary>Leaves out what is null: a field that may be left out is, as often as it is null.</summary>
    internal static JsonObject Trim(JsonObject full)
    {
        foreach (var name in full.Where(f => f.Value is null).Select(f => f.Key).ToArray()) full.Remove(name);
        return full;
    }
}
