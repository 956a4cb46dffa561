using System.CommandLine;
using EvenSplit.Books;
using EvenSplit.Formats.Scenarios;

namespace EvenSplit.Cli.Bench;

/// <summary>Measurements, each printed beside what it is held against. The folder keeps the books that are measured.</summary>
internal static class BenchCommand
{
    public static Command Make() => new("bench", "Makes a large book and measures what changes of it cost.") { MakeBook(), MakeImport(), MakeLoad(), MakeWork(), MakeMonth() };

    private static Command MakeBook()
    {
        var data = DataOption.Make();
        var orders = new Option<int>("--orders") { Description = "How many orders it is to have.", DefaultValueFactory = _ => 1_000_000 };
        var affiliates = new Option<int>("--affiliates") { Description = "How many affiliates more.", DefaultValueFactory = _ => 300 };
        var name = new Option<string>("--name") { Description = "The folder it gets.", DefaultValueFactory = _ => "big" };
        var command = new Command("make", "Makes a large book from the demonstration book under 'demo'.") { data, orders, affiliates, name };
        command.SetAction(parsed =>
        {
            var folder = parsed.GetRequiredValue(data).FullName;
            new BigBook(new BookPlace(Path.Combine(folder, parsed.GetRequiredValue(name)))).Make(Path.Combine(folder, "demo"), parsed.GetValue(orders), parsed.GetValue(affiliates));
        });
        return command;
    }

    private static Command MakeImport()
    {
        var data = DataOption.Make();
        var lines = new Option<int>("--lines") { Description = "How many order lines.", DefaultValueFactory = _ => 100_000 };
        var rounds = new Option<int>("--rounds") { Description = "How many times each is done; medians are compared.", DefaultValueFactory = _ => 3 };
        var command = new Command("import", "Measures the import of many order lines against a plain insert of the same rows.") { data, lines, rounds };
        command.SetAction(async (parsed, _) => await new ImportBench(parsed.GetRequiredValue(data).FullName, parsed.GetValue(lines), parsed.GetValue(rounds)).RunAsync());
        return command;
    }

    private static Command MakeLoad()
    {
        var data = DataOption.Make();
        var file = new Argument<string>("file") { Description = ScenarioFile.Description };
        var rounds = new Option<int>("--rounds") { Description = "How many times each is done; medians are compared.", DefaultValueFactory = _ => 3 };
        var command = new Command("load", "Measures the load of a scenario against a plain insert of the same rows.") { data, file, rounds };
        command.SetAction(parsed => new LoadBench(parsed.GetRequiredValue(data).FullName).Run(parsed.GetRequiredValue(file), parsed.GetValue(rounds)));
        return command;
    }

    private static Command MakeMonth()
    {
        var data = DataOption.Make();
        var command = new Command("month", "Measures sealing and proving a month in a large book, which is changed by it, and its journal.") { data };
        command.SetAction(parsed => new MonthBench(new BookPlace(parsed.GetRequiredValue(data).FullName)).Run());
        return command;
    }

    private static Command MakeWork()
    {
        var data = DataOption.Make();
        var only = new Option<string>("--only") { Description = "changes, writers, rehearsal, run or ladder.", DefaultValueFactory = _ => "" };
        var command = new Command("work", "Measures what changes cost in a large book, which is changed by it.") { data, only };
        command.SetAction(parsed => new WorkBench(new BookPlace(parsed.GetRequiredValue(data).FullName)).Run(parsed.GetRequiredValue(only)));
        return command;
    }
}
