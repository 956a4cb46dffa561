using System.CommandLine;
using EvenSplit.Core;
using EvenSplit.Formats.Scenarios;

namespace EvenSplit.Cli;

internal static class CalcCommand
{
    public static Command Make()
    {
        var file = new Argument<string>("file") { Description = "A scenario file, or - for standard input." };
        var command = new Command("calc", "Works out a scenario and prints the result as JSON.") { file };
        command.SetAction(parsed => Run(parsed.GetRequiredValue(file)));
        return command;
    }

    private static int Run(string file)
    {
        try
        {
            using var input = file == "-" ? Console.OpenStandardInput() : File.OpenRead(file);
            var result = WholeBook.WorkOut(ScenarioReader.Read(input));
            using var output = Console.OpenStandardOutput();
            ResultWriter.Write(result, output);
            return 0;
        }
        catch (ScenarioFaultException fault)
        {
            Console.Error.WriteLine(fault.Message);
            return 2;
        }
        catch (IOException missing)
        {
            Console.Error.WriteLine(missing.Message);
            return 2;
        }
    }
}
