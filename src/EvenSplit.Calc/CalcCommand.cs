using System.CommandLine;
using EvenSplit.Core;
using EvenSplit.Formats.Scenarios;

namespace EvenSplit.Calc;

/// <summary>A program of its own, since it needs no book: what it needs is little enough to be compiled into machine code.</summary>
internal static class CalcCommand
{
    public static RootCommand Make()
    {
        var file = new Argument<string>("file") { Description = ScenarioFile.Description };
        var trace = new Option<bool>("--trace") { Description = "Adds how every amount came about." };
        var command = new RootCommand("Works out a scenario and prints the result as JSON.") { file, trace };
        command.SetAction(parsed =>
        {
            var path = new FileInfo(parsed.GetRequiredValue(file));
            if (path is { Exists: true, Length: > 0 }) OnePassMemory.Reserve(path.Length);
            return ScenarioFile.Use(parsed.GetRequiredValue(file), facts => Print(facts, parsed.GetValue(trace)));
        });
        return command;
    }

    private static void Print(Facts facts, bool explain)
    {
        var ledgers = new List<OrderLedger>();
        using var result = new ResultText(facts.Orders.Count);
        var (runs, exceptions) = WholeBook.WorkOut(facts, result, explain ? new BookWatch { Explain = true, OnLedger = ledgers.Add } : null);
        using var output = Console.OpenStandardOutput();
        result.Write(output, runs, exceptions, explain ? (facts.Rules, ledgers) : null);
    }
}
