using System.Text.Json;
using EvenSplit.Formats.Scenarios;
using EvenSplit.RandomScenarios;

namespace EvenSplit.Core.Tests;

/// <summary>A result put into text while it is worked out, against one that is kept.</summary>
public sealed class ResultTextTests
{
    [Theory]
    [InlineData(1, 3)]
    [InlineData(2, 60)]
    // Beyond what stays in memory.
    [InlineData(3, 6_000)]
    public void Orders_stand_as_the_facts_list_them_and_entries_as_they_came(int seed, int orders)
    {
        var facts = ScenarioReader.Read(new MemoryStream(RandomScenario.Bytes(seed, new ScenarioSize { Orders = orders })));
        facts = facts with { Orders = [.. facts.Orders.OrderBy(o => o.Id.Value.GetHashCode(StringComparison.Ordinal))] };
        using var text = new ResultText(facts.Orders.Count);
        var (runs, exceptions) = WholeBook.WorkOut(facts, text);
        using var output = new MemoryStream();
        text.Write(output, runs, exceptions);

        var expected = WholeBook.WorkOut(facts);
        using var written = JsonDocument.Parse(output.ToArray());
        Assert.Equal(
            expected.Orders.Select(o => (o.Order.Id.Value, o.Figures?.Charged ?? 0, o.Earnings, o.House, o.Figures?.Lines.Count ?? 0)),
            Items(written, "orders").Select(o => (o.GetProperty("id").GetString()!, Number(o, "charged"), Number(o, "earnings"), Number(o, "house"), o.GetProperty("lines").GetArrayLength())));
        Assert.Equal(
            expected.Entries.Select(e => (e.Order.Value, e.Line.Value, e.Payee.Value, e.Refund?.Value, e.Amount.Minor)),
            Items(written, "entries").Select(e => (Text(e, "order")!, Text(e, "line")!, Text(e, "payee")!, Text(e, "refund"), Number(e, "amount"))));
        Assert.Equal(expected.Runs.Select(r => r.Id.Value), Items(written, "runs").Select(r => Text(r, "id")));
        Assert.Equal(expected.Exceptions.Count, Items(written, "exceptions").Length);

        using var again = new MemoryStream();
        ResultWriter.Write(expected, again);
        Assert.Equal(again.ToArray(), output.ToArray());
    }

    [Fact]
    public void What_waits_in_a_file_leaves_none_behind()
    {
        var before = Directory.GetFiles(Path.GetTempPath()).ToHashSet();
        var result = WholeBook.WorkOut(ScenarioReader.Read(new MemoryStream(RandomScenario.Bytes(4, new ScenarioSize { Orders = 4_000 }))));
        using var text = new ResultText(result.Orders.Count);
        for (var i = 0; i < result.Orders.Count; i++) text.Take(i, result.Orders[i]);
        using var output = new MemoryStream();
        text.Write(output, [], []);

        Assert.True(output.Length > 1 << 20, "The result must be too large to wait in memory.");
        var own = $"/proc/{Environment.ProcessId}/fd";
        Assert.Contains(Directory.GetFiles(own), fd => new FileInfo(fd).LinkTarget is { } target && target.StartsWith(Path.GetTempPath(), StringComparison.Ordinal) && target.EndsWith("(deleted)", StringComparison.Ordinal));
        Assert.DoesNotContain(Directory.GetFiles(Path.GetTempPath()), f => !before.Contains(f) && new FileInfo(f) is { Exists: true, Length: > 1 << 20 });
    }

    private static JsonElement[] Items(JsonDocument written, string list) => [.. written.RootElement.GetProperty(list).EnumerateArray()];

    private static string? Text(JsonElement item, string name) => item.GetProperty(name).GetString();

    private static long Number(JsonElement item, string name) => item.GetProperty(name).GetInt64();
}
