using System.Text;
using System.Text.Json.Nodes;
using EvenSplit.Formats.Scenarios;
using EvenSplit.RandomScenarios;

namespace EvenSplit.Formats.Tests;

/// <summary>One thing wrong with a good scenario at a time: each is named where it is, and nothing else is.</summary>
public sealed class ScenarioFaultTests
{
    private const string Good = """
        {
          "book": { "currency": "EUR", "timeZone": "Europe/Dublin", "clickModel": "last" },
          "rates": [ { "date": "2026-01-02", "from": "EUR", "to": "USD", "rate": "1.1" }, { "date": "2026-01-02", "from": "USD", "to": "EUR", "rate": "0.9" } ],
          "processors": [ { "id": "card", "rate": "0.015", "fixed": 25, "currency": "EUR" } ],
          "channels": [ { "id": "shop" } ],
          "products": [ { "id": "guide", "variants": ["small", "large"], "vendor": "joiner" }, { "id": "pin", "variants": [] } ],
          "payees": [
            { "id": "anna", "role": "affiliate", "payoutCurrency": "EUR", "activeFrom": "2026-01-01", "codes": ["ANNA"],
              "advances": [ { "id": "a1", "on": "2026-01-01", "amount": 500 } ],
              "agreements": [ { "id": "ref", "from": "2026-01-01", "to": "2026-06-01" }, { "id": "ref2", "from": "2026-06-01" } ],
              "personalTerms": [ { "agreement": "ref", "scope": { "variant": "large" }, "cases": [ { "rate": { "percent": "0.2" } } ] } ] },
            { "id": "joiner", "role": "vendor", "payoutCurrency": "EUR", "activeFrom": "2026-01-01", "codes": ["WOOD"], "agreements": [] } ],
          "agreements": [
            { "id": "ref", "basis": "referral", "currency": "EUR", "versions": [ { "from": "2026-01-01", "terms": [ { "scope": { "all": true }, "cases": [ { "when": { "customer": "new" }, "rate": { "percent": "0.1" } } ] } ] },
              { "from": "2026-02-01", "terms": [] } ] },
            { "id": "ref2", "basis": "referral", "currency": "EUR", "versions": [ { "from": "2026-01-01", "terms": [] } ] } ],
          "orders": [
            { "id": "o1", "channel": "shop", "currency": "EUR", "placedAt": "2026-02-03T10:00:00+00:00", "paidAt": "2026-02-03T10:00:00Z", "pricesIncludeTax": true, "customer": "new",
              "discount": 100, "shipping": { "amount": 500, "tax": 50 }, "codes": ["anna"], "clicks": [ { "payee": "anna", "at": "2026-02-01T10:00:00+01:00" } ],
              "lines": [ { "id": "l1", "product": "guide", "variant": "small", "quantity": 2, "unitPrice": 1000, "discount": 10, "tax": 300 }, { "id": "l2", "product": "pin", "quantity": 1, "unitPrice": 300 } ] },
            { "id": "o2", "channel": "shop", "currency": "EUR", "placedAt": "2026-03-03T10:00:00+00:00", "customer": "returning", "originOrderId": "o1", "lines": [ { "id": "l1", "product": "pin", "quantity": 1, "unitPrice": 300 } ] } ],
          "refunds": [ { "id": "r1", "order": "o1", "at": "2026-02-09T10:00:00Z", "kind": "refund", "lines": [ { "line": "l1", "quantity": 1, "goods": 500, "tax": 50 } ] } ],
          "adjustments": [ { "id": "x1", "payee": "anna", "on": "2026-02-01", "amount": -50, "currency": "EUR", "note": "sample" } ],
          "runs": [ { "id": "run1", "asOf": "2026-03-31", "payees": ["anna", "joiner"] } ]
        }
        """;

    [Fact]
    public void The_good_one_has_none() => Assert.Empty(FaultsOf(Encoding.UTF8.GetBytes(Good)));

    [Fact]
    public void What_is_no_utf_8_is_a_fault_with_its_place()
    {
        byte[] latin = [.. "{\"book\":{\"currency\":\""u8, 0xE9, .. "\"}}"u8];
        var fault = Assert.Single(FaultsOf(latin));
        Assert.Equal("$: byte 21 is not UTF-8; save the file as UTF-8.", fault.ToString());
    }

    [Theory]
    [InlineData("$.book.colour", "\"red\"", "$.book.colour: there is no such field here")]
    [InlineData("$.book.currency", "\"ABC\"", "$.book.currency: 'ABC' is not an ISO 4217 currency code.")]
    [InlineData("$.book.currency", "null", "$.book.currency: null is there; a text in quotes was expected.")]
    [InlineData("$.book.timeZone", "\"Mars/North\"", "$.book.timeZone: 'Mars/North' is not a time zone")]
    [InlineData("$.book.clickModel", "\"middle\"", "$.book.clickModel: 'middle' is none of first, last.")]
    [InlineData("$.book.allowSelfReferral", "\"no\"", "$.book.allowSelfReferral: \"no\" is there, but true or false was expected.")]
    [InlineData("$.book", "[]", "$.book: a list is there, but an object was expected.")]
    [InlineData("$.orders", "7", "$.orders: 7 is there, but a list was expected.")]
    [InlineData("$.payees", "{}", "$.payees: an object is there, but a list was expected.")]
    [InlineData("$.payees[0].id", "5", "$.payees[0].id: 5 is there, but a text in quotes was expected.")]
    [InlineData("$.products[0].variants[0]", "5", "$.products[0].variants[0]: 5 is there, but a text in quotes was expected.")]
    [InlineData("$.orders[1]", "null", "$.orders[1]: null is there, but an object was expected.")]
    [InlineData("$.orders[0].codes[0]", "null", "$.orders[0].codes[0]: null is there, but a text in quotes was expected.")]
    [InlineData("$.rates[1]", """{ "date": "2026-01-02", "from": "EUR", "to": "USD", "rate": "1.2" }""", "$.rates[1]: there is a rate from EUR to USD on 2026-01-02 already.")]
    [InlineData("$.rates[0].rate", "\"0\"", "$.rates[0].rate: an exchange rate is above 0.")]
    [InlineData("$.rates[0].rate", "1.1", "$.rates[0].rate: 1.1 is there, but a text in quotes was expected.")]
    [InlineData("$.rates[0].rate", "\"1.1234567\"", "$.rates[0].rate: '1.1234567' has more than six places.")]
    [InlineData("$.rates[0].date", "\"2026-02-30\"", "$.rates[0].date: \"2026-02-30\" is there, but a date such as")]
    [InlineData("$.processors[0].rate", "\"1.5\"", "$.processors[0].rate: 1.5 is above 1")]
    [InlineData("$.processors[0].rate", "\"-0.1\"", "$.processors[0].rate: '-0.1' is below 0.")]
    [InlineData("$.processors[0].fixed", "-1", "$.processors[0].fixed: -1 is below 0")]
    [InlineData("$.processors[0].fixed", "0.5", "$.processors[0].fixed: 0.5 is there, but a whole number was expected.")]
    [InlineData("$.processors[0].fixed", "9007199254740992", "$.processors[0].fixed: 9007199254740992 is beyond")]
    [InlineData("$.processors[0].fixed", "99999999999999999999", "$.processors[0].fixed: 99999999999999999999 is beyond the largest amount")]
    [InlineData("$.channels[0].rebateRate", "\"x\"", "$.channels[0].rebateRate: 'x' is not a decimal fraction")]
    [InlineData("$.products[1].id", "\"guide\"", "$.products[1].id: product 'guide' is there already", "$.orders[0].lines[1].product: there is no product 'pin'.", "$.orders[1].lines[0].product: there is no product 'pin'.")]
    [InlineData("$.products[1].variants[0]", "\"small\"", "$.products[1].variants[0]: variant 'small' is there already")]
    [InlineData("$.products[0].vendor", "\"nobody\"", "$.products[0].vendor: there is no payee 'nobody'.")]
    [InlineData("$.products[0].returnDays", "-1", "$.products[0].returnDays: -1 is below 0.")]
    [InlineData("$.payees[1].role", "\"friend\"", "$.payees[1].role: 'friend' is none of affiliate, collaborator, vendor.")]
    [InlineData("$.payees[1].codes[0]", "\"anna\"", "$.payees[1].codes[0]: coupon code 'anna' belongs to payee 'anna' already.")]
    [InlineData("$.payees[1].codes[0]", "{ \"code\": \"anna\", \"from\": \"2026-10-01\" }", "$.payees[1].codes[0]: coupon code 'anna' belongs to payee 'anna' already.")]
    [InlineData("$.payees[1].codes[0]", "{ \"code\": \"bea\", \"from\": \"2026-10-01\", \"to\": \"2026-10-01\" }", "$.payees[1].codes[0]: coupon code 'bea' ends before it begins.")]
    [InlineData("$.payees[1].recruitedBy", "\"nobody\"", "$.payees[1].recruitedBy: there is no payee 'nobody'.")]
    [InlineData("$.payees[0].agreements[1].from", "\"2026-05-31\"", "$.payees[0].agreements[1]: referral agreements 'ref' and 'ref2' overlap")]
    [InlineData("$.payees[0].agreements[1]", """{ "id": "ref", "from": "2026-03-01" }""", "$.payees[0].agreements[1]: agreement 'ref' is there twice at once")]
    [InlineData("$.payees[0].agreements[1].id", "\"none\"", "$.payees[0].agreements[1].id: there is no agreement 'none'.")]
    [InlineData("$.payees[0].agreements", null, "$.payees[0].agreements: this field is missing; a list was expected.")]
    [InlineData("$.payees[0].personalTerms[0].agreement", "\"none\"", "$.payees[0].personalTerms[0].agreement: there is no agreement 'none'.")]
    [InlineData("$.payees[0].personalTerms[0].scope", """{ "all": true, "product": "pin" }""", "$.payees[0].personalTerms[0].scope: a scope names one of")]
    [InlineData("$.payees[0].personalTerms[0].scope", "{}", "$.payees[0].personalTerms[0].scope: a scope names one of")]
    [InlineData("$.payees[0].personalTerms[0].scope.variant", "\"huge\"", "$.payees[0].personalTerms[0].scope.variant: there is no variant 'huge'.")]
    [InlineData("$.agreements[0].versions[1].from", "\"2026-01-01\"", "$.agreements[0].versions[1].from: there is a version from 2026-01-01 already.")]
    [InlineData("$.agreements[0].versions", "[]", "$.agreements[0].versions: an agreement has at least one version.")]
    [InlineData("$.agreements[0].versions[0].tax", "\"give\"", "$.agreements[0].versions[0].tax: 'give' is none of keep, count, pass.")]
    [InlineData("$.agreements[0].versions[0].terms[0].cases[0].rate.percent", "\"1.1\"", "$.agreements[0].versions[0].terms[0].cases[0].rate.percent: 1.1 is above 1")]
    [InlineData("$.agreements[0].versions[0].terms[0].cases[0].rate.perUnit", "-5", "$.agreements[0].versions[0].terms[0].cases[0].rate.perUnit: -5 is below 0")]
    [InlineData("$.agreements[0].versions[0].terms[0].cases[0].when.customer", "\"old\"", "$.agreements[0].versions[0].terms[0].cases[0].when.customer: 'old' is none of new, returning.")]
    [InlineData("$.agreements[0].versions[0].terms[0].cases[0].when.window", "\"week\"", "$.agreements[0].versions[0].terms[0].cases[0].when.window: 'week' is none of lifetime")]
    [InlineData("$.orders[1].id", "\"o1\"", "$.orders[1].id: order 'o1' is there already")]
    [InlineData("$.orders[0].placedAt", "\"2026-02-03T10:00:00\"", "$.orders[0].placedAt: \"2026-02-03T10:00:00\" is there, but an instant with its offset")]
    [InlineData("$.orders[0].manualPayee", "\"nobody\"", "$.orders[0].manualPayee: there is no payee 'nobody'.")]
    [InlineData("$.orders[0].clicks[0].payee", "\"nobody\"", "$.orders[0].clicks[0].payee: there is no payee 'nobody'.")]
    [InlineData("$.orders[0].originOrderId", "\"o2\"", "$.orders[0].originOrderId: the origin of order 'o1' leads back to itself.")]
    [InlineData("$.orders[0].discount", "2291", "$.orders[0].discount: 2291 is above the 2290 it is taken from.")]
    [InlineData("$.orders[0].shipping.tax", "501", "$.orders[0].shipping.tax: 501 is above the shipping of 500")]
    [InlineData("$.orders[0].lines", "[]", "$.orders[0].lines: an order has at least one line.", "$.refunds[0].lines[0].line")]
    [InlineData("$.orders[0].lines[1].id", "\"l1\"", "$.orders[0].lines[1].id: line 'l1' is there already")]
    [InlineData("$.orders[0].lines[0].quantity", "0", "$.orders[0].lines[0].quantity: 0 is no quantity")]
    [InlineData("$.orders[0].lines[0].unitPrice", "9007199254740991", "$.orders[0].lines[0].unitPrice: price × quantity is 18014398509481982, beyond")]
    [InlineData("$.orders[0].lines[0].discount", "2001", "$.orders[0].lines[0].discount: 2001 is above the 2000 it is taken from.")]
    [InlineData("$.orders[0].lines[0].tax", "1990", "$.orders[0].lines[0].tax: 1990 is above the 1903 left after discounts")]
    [InlineData("$.orders[0].lines[0].variant", "\"huge\"", "$.orders[0].lines[0].variant: there is no variant 'huge'.")]
    [InlineData("$.orders[0].lines[0].product", "\"none\"", "$.orders[0].lines[0].product: there is no product 'none'.", "$.orders[0].lines[0].variant: variant 'small' is product 'guide'")]
    [InlineData("$.refunds[0].order", "\"o9\"", "$.refunds[0].order: there is no order 'o9'.")]
    [InlineData("$.refunds[0].kind", "\"gift\"", "$.refunds[0].kind: 'gift' is none of refund, chargeback, cancel.")]
    [InlineData("$.refunds[0].lines[0].line", "\"l9\"", "$.refunds[0].lines[0].line: order 'o1' has no line 'l9'.")]
    [InlineData("$.refunds[0].lines[0].quantity", "-1", "$.refunds[0].lines[0].quantity: -1 is below 0.")]
    [InlineData("$.adjustments[0].payee", "\"nobody\"", "$.adjustments[0].payee: there is no payee 'nobody'.")]
    [InlineData("$.runs[0].payees[1]", "\"anna\"", "$.runs[0].payees[1]: payee 'anna' is in this run already.")]
    [InlineData("$.runs[0].payees[1]", "\"nobody\"", "$.runs[0].payees[1]: there is no payee 'nobody'.")]
    public void Each_fault_is_named_where_it_is(string place, string? value, params string[] expected)
    {
        var faults = FaultsOf(With(Good, (place, value)));
        Assert.Equal(expected.Length, faults.Count);
        Assert.All(faults.Zip(expected), pair => Assert.StartsWith(pair.Second, pair.First.ToString(), StringComparison.Ordinal));
    }

    [Fact]
    public void All_faults_of_a_file_are_named_at_once()
    {
        var faults = FaultsOf(With(
            Good,
            ("$.orders[0].lines[0].quantity", "0"),
            ("$.orders[1].currency", "5"),
            ("$.payees[0].nickname", "\"A\""),
            ("$.agreements[0].currency", null),
            ("$.runs[0].payees[0]", "\"nobody\"")));
        Assert.Equal(
            ["$.agreements[0].currency", "$.orders[0].lines[0].quantity", "$.orders[1].currency", "$.payees[0].nickname", "$.runs[0].payees[0]"],
            faults.Select(f => f.Place).Order(StringComparer.Ordinal));
    }

    [Theory]
    [InlineData("")]
    [InlineData("{")]
    [InlineData("null")]
    [InlineData("[1, 2]")]
    [InlineData("""{ "book": { "currency": "EUR", "currency": "EUR" } }""")]
    public void What_is_no_scenario_at_all_is_refused(string text) => Assert.NotEmpty(FaultsOf(Encoding.UTF8.GetBytes(text)));

    [Fact]
    public void Nesting_without_end_is_refused() => Assert.Single(FaultsOf(Encoding.UTF8.GetBytes(new string('[', 100_000))));

    [Fact]
    public void A_byte_order_mark_is_no_fault() => Assert.Empty(FaultsOf([.. Encoding.UTF8.Preamble, .. Encoding.UTF8.GetBytes(Good)]));

    [Theory]
    [InlineData(1), InlineData(2), InlineData(3)]
    public void Random_damage_is_a_fault_or_none_but_never_a_crash(int seed)
    {
        var random = new Random(seed);
        var good = RandomScenario.Bytes(seed, new ScenarioSize { Orders = 6 });
        for (var i = 0; i < 300; i++)
        {
            var damaged = good.ToArray();
            for (var b = 0; b < 3; b++) damaged[random.Next(damaged.Length)] = (byte)random.Next(32, 127);
            Assert.All(FaultsOf(damaged), f => Assert.StartsWith("$", f.Place, StringComparison.Ordinal));
        }
    }

    private static IReadOnlyList<ScenarioFault> FaultsOf(byte[] json)
    {
        try
        {
            ScenarioReader.Read(new MemoryStream(json));
            return [];
        }
        catch (ScenarioFaultException faulty)
        {
            return faulty.Faults;
        }
    }

    /// <summary>The scenario with values put in places; a null value takes the field away.</summary>
    private static byte[] With(string json, params (string Place, string? Value)[] changes)
    {
        var root = JsonNode.Parse(json)!;
        foreach (var (place, value) in changes)
        {
            var steps = place[1..].Replace("[", ".[", StringComparison.Ordinal).Split('.', StringSplitOptions.RemoveEmptyEntries);
            var parent = root;
            foreach (var step in steps[..^1]) parent = step[0] == '[' ? parent![int.Parse(step[1..^1])] : parent![step];
            var last = steps[^1];
            if (last[0] == '[')
            {
                var list = parent!.AsArray();
                var index = int.Parse(last[1..^1]);
                if (index < list.Count) list.RemoveAt(index);
                list.Insert(index, JsonNode.Parse(value!));
            }
            else if (value is null) parent!.AsObject().Remove(last);
            else parent![last] = JsonNode.Parse(value);
        }
        return Encoding.UTF8.GetBytes(root.ToJsonString());
    }
}
