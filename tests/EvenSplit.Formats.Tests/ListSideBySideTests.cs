using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using EvenSplit.Core;
using EvenSplit.Formats.Scenarios;
using EvenSplit.RandomScenarios;

namespace EvenSplit.Formats.Tests;

public class ListSideBySideTests
{
    private static readonly byte[] Large = RandomScenario.Bytes(11, new ScenarioSize { Orders = 3000 });

    /// <summary>Null where the scenario has no list of orders in the form it must have.</summary>
    private static (Order[] Orders, Refund[] Refunds, ReadOnlyMemory<byte> Remainder)? TakeOut(ReadOnlyMemory<byte> json)
    {
        using var orders = new ListSideBySide<Order>("orders", OrderReader.Read);
        using var refunds = new ListSideBySide<Refund>("refunds", RefundReader.Read);
        return LongLists.TakeOut(json, orders, refunds) is { } rest && orders.IsFound ? (orders.Items(), refunds.Items(), rest) : null;
    }

    [Fact]
    public void Sales_read_straight_are_what_their_documents_say()
    {
        var (orders, refunds, rest) = TakeOut(Large)!.Value;
        var documents = ScenarioReader.Parse(Large)!;
        Assert.Equal(3000, documents.Orders.Count);
        Assert.Equal(JsonSerializer.Serialize(documents.Orders.Select(ScenarioReader.ToOrder)), JsonSerializer.Serialize(orders));
        Assert.NotEmpty(documents.Refunds!);
        Assert.Equal(JsonSerializer.Serialize(documents.Refunds!.Select(ScenarioReader.ToRefund)), JsonSerializer.Serialize(refunds));
        var emptied = JsonNode.Parse(Large)!;
        (emptied["orders"], emptied["refunds"]) = (new JsonArray(), new JsonArray());
        Assert.True(JsonNode.DeepEquals(emptied, JsonNode.Parse(rest.Span)));
    }

    [Fact]
    public void Refunds_may_come_before_orders_and_may_be_missing()
    {
        var turned = JsonNode.Parse(Large)!.AsObject();
        turned.Remove("refunds", out var refunds);
        var without = JsonSerializer.SerializeToUtf8Bytes(turned);
        Assert.Equal((3000, 0), (TakeOut(without)!.Value.Orders.Length, TakeOut(without)!.Value.Refunds.Length));
        turned.Insert(0, "refunds", refunds);
        Assert.Equal(
            JsonSerializer.Serialize(ScenarioReader.Read(new MemoryStream(Large)).Refunds),
            JsonSerializer.Serialize(ScenarioReader.Read(Stream(turned)).Refunds));
    }

    [Fact]
    public void Spaces_and_escapes_change_nothing()
    {
        var spaced = JsonSerializer.SerializeToUtf8Bytes(JsonNode.Parse(Large), new JsonSerializerOptions { WriteIndented = true });
        Assert.Equal(JsonSerializer.Serialize(TakeOut(Large)!.Value.Orders), JsonSerializer.Serialize(TakeOut(spaced)!.Value.Orders));
        // A name written with an escape is read all the same, the slower way.
        var escaped = Encoding.UTF8.GetString(Large).Replace("\"customerKey\":", "\"customer\\u004bey\":");
        Assert.Throws<JsonException>(() => TakeOut(Encoding.UTF8.GetBytes(escaped)));
        Assert.Equal(
            JsonSerializer.Serialize(ScenarioReader.Read(new MemoryStream(Large)).Orders),
            JsonSerializer.Serialize(ScenarioReader.Read(new MemoryStream(Encoding.UTF8.GetBytes(escaped))).Orders));
    }

    [Theory]
    [InlineData("[]", 0)]
    [InlineData(" [ ] ", 0)]
    [InlineData("{}")]
    [InlineData("[,]")]
    [InlineData("[{}")]
    [InlineData("[{},]")]
    [InlineData("[{} {}]")]
    [InlineData("[{\"id\":\"}\"]")]
    public void A_list_of_orders_is_found_only_where_there_is_one(string list, int? orders = null)
    {
        var found = Record.Exception(() => Assert.Equal(orders, TakeOut(Encoding.UTF8.GetBytes($$"""
            {"book":{"currency":"EUR","timeZone":"Europe/Dublin","clickModel":"last"},"products":[],"payees":[],"agreements":[],"orders":{{list}}}
            """))?.Orders.Length));
        Assert.True(found is null or JsonException, found?.ToString());
    }

    [Fact]
    public void A_fault_in_the_midst_of_a_large_file_is_told_with_its_place()
    {
        var scenario = JsonNode.Parse(Large)!;
        scenario["orders"]![1700]!["lines"]![0]!["quantity"] = "three";
        scenario["orders"]![2900]!["colour"] = "red";
        var faults = Assert.Throws<ScenarioFaultException>(() => ScenarioReader.Read(Stream(scenario))).Faults;
        Assert.Equal(["$.orders[1700].lines[0].quantity", "$.orders[2900].colour"], faults.Select(f => f.Place));
    }

    [Theory]
    [InlineData("null")]
    [InlineData("7")]
    public void What_is_no_order_among_thousands_is_a_fault(string value)
    {
        var scenario = JsonNode.Parse(Large)!;
        scenario["orders"]![1234] = JsonNode.Parse(value);
        var fault = Assert.Single(Assert.Throws<ScenarioFaultException>(() => ScenarioReader.Read(Stream(scenario))).Faults);
        Assert.Equal("$.orders[1234]", fault.Place);
    }

    [Fact]
    public void Orders_given_twice_are_a_fault()
    {
        var text = Encoding.UTF8.GetString(Large);
        var twice = text[..^1] + ",\"orders\":[]}";
        var fault = Assert.Single(Assert.Throws<ScenarioFaultException>(() => ScenarioReader.Read(new MemoryStream(Encoding.UTF8.GetBytes(twice)))).Faults);
        Assert.Equal("$.orders", fault.Place);
    }

    private static MemoryStream Stream(JsonNode scenario) => new(JsonSerializer.SerializeToUtf8Bytes(scenario));
}
