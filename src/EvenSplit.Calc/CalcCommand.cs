using System.CommandLine;
using System.CommandLine.Help;
using EvenSplit.Core;
using EvenSplit.Formats.Scenarios;

namespace EvenSplit.Calc;

/// <summary>A program of its own, since it needs no book: what it needs is little enough to be compiled into machine code.</summary>
internal static class CalcCommand
{
    public static Command Make()
    {
        var file = new Argument<string>("file") { Description = ScenarioFile.Description };
        var trace = new Option<bool>("--trace") { Description = "Adds how every amount came about." };
        var command = new Command("calc", "Works out a scenario and prints the result as JSON.") { new HelpOption(), file, trace };
        command.SetAction(parsed =>
        {
            var path = new FileInfo(parsed.GetRequiredValue(file));
            if (path is { Exists: true, Length: > 0 }) OnePassMemory.Reserve(path.Length);
            var isWritten = true;
            var read = ScenarioFile.Use(parsed.GetRequiredValue(file), facts =>
            {
                if (path.Exists) OnePassMemory.KeepWhatIsRead(path.Length);
                isWritten = TryPrint(facts, parsed.GetValue(trace));
            });
            return isWritten ? read : 1;
        });
        return command;
    }

    /// <returns>Whether there was room for it, where it waits and where it goes; the reason is told on standard error.</returns>
    private static bool TryPrint(Facts facts, bool explain)
    {
        try
        {
            Print(facts, explain);
            return true;
        }
        catch (Exception full) when (full is IOException or UnauthorizedAccessException)
        {
            Console.Error.WriteLine($"The result could not be written: {full.Message}");
            return false;
        }
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
