using System.Text.Json.Nodes;
using EvenSplit.Formats.Scenarios;

namespace EvenSplit.Core.Tests;

/// <summary>Whole scenarios with their right results, to the minor unit.</summary>
public sealed class SampleScenarios
{
    private static readonly string Folder = Path.Combine(AppContext.BaseDirectory, "samples");

    public static TheoryData<string> Names => new(Directory.GetFiles(Folder, "*.json")
        .Select(f => Path.GetFileName(f)!)
        .Where(f => !f.EndsWith(".result.json", StringComparison.Ordinal))
        .Select(f => f[..^".json".Length])
        .Order(StringComparer.Ordinal));

    [Theory, MemberData(nameof(Names))]
    public void Result_is_the_expected_one(string name)
    {
        var expected = JsonNode.Parse(File.ReadAllText(Path.Combine(Folder, name + ".result.json")))!.AsObject();
        var actual = Calculate(name);
        foreach (var section in expected.Select(s => s.Key))
        {
            Assert.Equal(Items(expected, section), Items(actual, section));
        }
    }

    private static List<string> Items(JsonObject result, string section) =>
        result[section]!.AsArray().Select(item => item!.ToJsonString()).ToList();

    private static JsonObject Calculate(string name)
    {
        using var file = File.OpenRead(Path.Combine(Folder, name + ".json"));
        using var output = new MemoryStream();
        ResultWriter.Write(WholeBook.WorkOut(ScenarioReader.Read(file)), output);
        return JsonNode.Parse(output.ToArray())!.AsObject();
    }
}
