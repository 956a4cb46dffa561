using System.CommandLine;
using EvenSplit.Books;
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
        var file = new Argument<string>("file") { Description = ScenarioFile.Description };
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
        using (var services = OneBook.At(place))
        {
            services.PrepareBook();
            using var scope = services.CreateScope();
            scope.ServiceProvider.GetRequiredService<LoadScenario>().Load(facts, Path.GetFileName(folder), Environment.UserName);
        }
        SqliteConnection.ClearAllPools();
        if (Directory.Exists(folder)) Directory.Delete(folder);
        Directory.Move(place.Folder, folder);
    }

    private static int Print(string folder) => FromBook.Print<BookResults>(folder, (results, output) => ResultWriter.Write(results.Read(), output));
}
