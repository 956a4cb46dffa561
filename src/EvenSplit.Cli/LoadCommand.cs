using System.CommandLine;
using EvenSplit.Books;
using EvenSplit.Books.Reconcile;
using EvenSplit.Books.Scenarios;
using EvenSplit.Core;
using EvenSplit.Formats.Scenarios;
using Microsoft.Data.Sqlite;
using Microsoft.Extensions.DependencyInjection;

namespace EvenSplit.Cli;

/// <summary>Scenarios into a book, and the result back out of one.</summary>
internal static class LoadCommand
{
    public static Command Make()
    {
        var data = DataOption.Make();
        var file = ScenarioFile.Argument();
        var command = new Command("load", "Makes a book of a scenario, through the doors everything comes in at.") { file, data };
        command.SetAction(parsed => ScenarioFile.Use(parsed.GetRequiredValue(file), facts => Load(facts, parsed.GetRequiredValue(data).FullName)));
        return command;
    }

    public static Command MakeResult()
    {
        var data = DataOption.Make();
        var command = new Command("result", "Prints what a book holds as the result of a calculation.") { data };
        command.SetAction(parsed => Print(parsed.GetRequiredValue(data).FullName));
        return command;
    }

    /// <summary>Works in a folder beside the one asked for, which so is there whole or not at all.</summary>
    /// <exception cref="IOException">The folder holds something already.</exception>
    private static void Load(Facts facts, string folder)
    {
        if (Directory.Exists(folder) && Directory.EnumerateFileSystemEntries(folder).Any()) throw new IOException($"{folder} holds something already; a scenario makes a new book.");
        var place = new BookPlace(folder.TrimEnd(Path.DirectorySeparatorChar) + ".loading");
        if (Directory.Exists(place.Folder)) Directory.Delete(place.Folder, recursive: true);
        using (var services = CliServices.For(place))
        {
            services.PrepareBook();
            using var scope = services.CreateScope();
            scope.ServiceProvider.GetRequiredService<LoadScenario>().Load(facts, Path.GetFileName(folder), Environment.UserName);
        }
        SqliteConnection.ClearAllPools();
        if (Directory.Exists(folder)) Directory.Delete(folder);
        Directory.Move(place.Folder, folder);
    }

    public static Command MakeExport()
    {
        var data = DataOption.Make();
        var scenario = new Command("scenario", "The facts of a book as a scenario file, that calc works out anew.") { data };
        scenario.SetAction(parsed => FromBook<BookFacts>(parsed.GetRequiredValue(data).FullName, (book, output) =>
        {
            var facts = book.Read();
            foreach (var unsaid in ScenarioWriter.Unsaid(facts)) Console.Error.WriteLine(unsaid);
            ScenarioWriter.Write(facts, output);
        }));
        return new Command("export", "Prints what a book holds.") { scenario, MakeMatches() };
    }

    private static Command MakeMatches()
    {
        var data = DataOption.Make();
        var bench = new Option<Books.Model.Bench>("--bench") { Description = "processors, bank or partners", Required = true };
        var asOf = new Option<DateOnly?>("--as-of") { Description = "The day from which lateness is told, such as 2026-10-31; the book's today where left out." };
        var matches = new Command("matches", "What processors, banks or partners say, held against the book: a row for each line, and for what is late of ours.") { bench, asOf, data };
        // What was noted since is held against the lines first; nothing else of the book is changed.
        matches.SetAction(parsed => FromBook<MatchesExport>(parsed.GetRequiredValue(data).FullName, (export, output) =>
        {
            using var text = new StreamWriter(output);
            export.Write(parsed.GetRequiredValue(bench), parsed.GetValue(asOf), text);
        }));
        return matches;
    }

    private static int Print(string folder) => FromBook<BookResults>(folder, (results, output) => ResultWriter.Write(results.Read(), output));

    private static int FromBook<T>(string folder, Action<T, Stream> print) where T : notnull
    {
        var place = new BookPlace(folder);
        if (!File.Exists(place.Database))
        {
            Console.Error.WriteLine($"There is no book in {folder}.");
            return 2;
        }
        using var services = CliServices.For(place);
        // What only reads never changes a book.
        if (!services.IsOfThisVersion())
        {
            Console.Error.WriteLine("This book was last opened with another version of the application; open it with this one first: ./evensplit serve.");
            return 2;
        }
        using var scope = services.CreateScope();
        using var output = Console.OpenStandardOutput();
        print(scope.ServiceProvider.GetRequiredService<T>(), output);
        return 0;
    }
}
