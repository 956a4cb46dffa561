using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using EvenSplit.Formats.Scenarios;
using EvenSplit.RandomScenarios;

namespace EvenSplit.Formats.Tests;

public class OrdersSideBySideTests
{
    private static readonly byte[] Large = RandomScenario.Bytes(11, new ScenarioSize { Orders = 3000 });

    [Fact]
    public void A_large_file_reads_the_same_in_portions_as_in_one_go()
    {
        var inPortions = OrdersSideBySide.Read(Large);
        Assert.NotNull(inPortions);
        Assert.Equal(3000, inPortions.Orders.Count);
        Assert.Equal(Written(ScenarioReader.Parse(Large)), Written(inPortions));
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

    private static string Written(ScenarioDocument? scenario) => JsonSerializer.Serialize(scenario, ScenarioJson.Options);
}
