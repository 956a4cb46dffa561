using System.Diagnostics;
using System.Globalization;
using EvenSplit.Books;
using EvenSplit.Books.Scenarios;
using EvenSplit.Core;
using EvenSplit.Formats.Scenarios;
using Microsoft.Extensions.DependencyInjection;

namespace EvenSplit.Cli.Bench;

/// <summary>Loads a scenario into a book of its own and prints the time as a ratio to the plain insert of the same rows.</summary>
/// <param name="folder">Where both books are made; they stay there.</param>
internal sealed class LoadBench(string folder)
{
    public int Run(string scenario, int rounds) => ScenarioFile.Use(scenario, facts => Measure(facts, rounds));

    private void Measure(Facts facts, int rounds)
    {
        var (loads, plains, rows) = (new List<TimeSpan>(), new List<TimeSpan>(), 0);
        for (var round = 0; round < rounds; round++)
        {
            var loaded = Empty("loaded");
            loads.Add(Load(facts, loaded));
            (var plain, rows) = PlainInsert.Run(loaded, Empty("plain"));
            plains.Add(plain);
        }
        var (load, insert) = (loads.Order().ElementAt(rounds / 2), plains.Order().ElementAt(rounds / 2));
        var what = string.Create(CultureInfo.InvariantCulture, $"{facts.Orders.Count:N0} orders, {facts.Refunds.Count:N0} refunds and {facts.Runs.Count:N0} runs");
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"load of {what}  {load.TotalSeconds:F2} s"));
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"plain insert of its {rows:N0} rows  {insert.TotalSeconds:F2} s"));
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"ratio  {load / insert:F2}  (medians of {rounds}; wanted: at most 3)"));
    }

    private static TimeSpan Load(Facts facts, BookPlace place)
    {
        using var services = OneBook.At(place);
        services.PrepareBook();
        using var scope = services.CreateScope();
        GC.Collect();
        var started = Stopwatch.StartNew();
        scope.ServiceProvider.GetRequiredService<LoadScenario>().Load(facts, "loaded", "bench");
        return started.Elapsed;
    }

    private BookPlace Empty(string name) => BookCopy.Empty(new BookPlace(Path.Combine(folder, name)));
}
