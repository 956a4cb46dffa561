using System.CommandLine;
using EvenSplit.Core;
using EvenSplit.Formats.Scenarios;

namespace EvenSplit.Cli;

internal static class CalcCommand
{
    public static Command Make()
    {
        var file = ScenarioFile.Argument();
        var command = new Command("calc", "Works out a scenario and prints the result as JSON.") { file };
        command.SetAction(parsed => ScenarioFile.Use(parsed.GetRequiredValue(file), facts =>
        {
            using var output = Console.OpenStandardOutput();
            ResultWriter.Write(WholeBook.WorkOut(facts), output);
        }));
        return command;
    }
}
