using System.CommandLine;

namespace EvenSplit.Cli.Bench;

internal static class BenchCommand
{
    public static Command Make()
    {
        var data = DataOption.Make();
        var lines = new Option<int>("--lines") { Description = "How many order lines.", DefaultValueFactory = _ => 100_000 };
        var rounds = new Option<int>("--rounds") { Description = "How many times each is done; medians are compared.", DefaultValueFactory = _ => 3 };
        var command = new Command("bench", "Measures the import of many order lines against a plain insert of the same rows.") { data, lines, rounds };
        command.SetAction(async (parsed, _) => await new ImportBench(parsed.GetRequiredValue(data).FullName, parsed.GetValue(lines), parsed.GetValue(rounds)).RunAsync());
        return command;
    }
}
