using System.CommandLine;
using EvenSplit.Books;
using EvenSplit.Books.Backups;
using EvenSplit.Core;
using Microsoft.Extensions.DependencyInjection;

namespace EvenSplit.Cli;

/// <summary>Backs a book up while it is served, and brings one back.</summary>
internal static class BackupCommand
{
    private const string Variable = "EVENSPLIT_PASSPHRASE";

    public static Command Make()
    {
        var data = DataOption.Make();
        var file = new Argument<string>("file") { Description = "The file to make." };
        var command = new Command("backup", $"Backs a book up into one encrypted file, while it is served. The passphrase is read from {Variable}, or asked for.") { file, data };
        command.SetAction(parsed => Told(() =>
        {
            var place = new BookPlace(parsed.GetRequiredValue(data).FullName);
            if (!File.Exists(place.Database)) throw new RefusedException($"There is no book in {place.Folder}.");
            using var services = OneBook.At(place);
            if (!services.IsOfThisVersion()) throw new RefusedException("This book was last opened with another version of the application; open it with this one first.");
            using var scope = services.CreateScope();
            var made = scope.ServiceProvider.GetRequiredService<BookBackup>().Make(Path.GetFullPath(parsed.GetRequiredValue(file)), Passphrase(), Environment.UserName);
            return $"{made.Path}: {MoneyWords.Count(made.Files, "file")}, {made.Bytes / 1024.0 / 1024:N1} MB, read back and whole. Keep the passphrase apart from it: without it nobody opens the file.";
        }));
        return command;
    }

    public static Command MakeRestore()
    {
        var data = DataOption.Make();
        var file = new Argument<string>("file") { Description = "The backup." };
        var command = new Command("restore", $"Brings a book back from a backup into a folder that is not there yet. The passphrase is read from {Variable}, or asked for.") { file, data };
        command.SetAction(parsed => Told(() =>
        {
            var at = RestoredBook.Restore(Path.GetFullPath(parsed.GetRequiredValue(file)), Passphrase(), new BookPlace(parsed.GetRequiredValue(data).FullName), OneBook.At, Environment.UserName);
            return $"The book is back as it was at {at:yyyy-MM-dd HH:mm:ss}Z. It issues nothing until what banks and wallets did since is taken up: its desk says how.";
        }));
        return command;
    }

    private static int Told(Func<string> work)
    {
        try
        {
            Console.WriteLine(work());
            return 0;
        }
        catch (RefusedException refused)
        {
            Console.Error.WriteLine(refused.Message);
            return 2;
        }
        catch (Exception fault) when (fault is IOException or UnauthorizedAccessException)
        {
            Console.Error.WriteLine(fault.Message);
            return 1;
        }
    }

    private static string Passphrase()
    {
        if (Environment.GetEnvironmentVariable(Variable) is { Length: > 0 } given) return given;
        Console.Error.Write("Passphrase: ");
        return Console.ReadLine() ?? "";
    }
}
