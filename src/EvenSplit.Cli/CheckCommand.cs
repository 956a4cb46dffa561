using System.CommandLine;
using EvenSplit.Books;
using EvenSplit.Books.Checking;
using EvenSplit.Core;
using Microsoft.Extensions.DependencyInjection;

namespace EvenSplit.Cli;

/// <summary>Works a book out anew and compares; it only reads.</summary>
internal static class CheckCommand
{
    public static Command Make()
    {
        var data = DataOption.Make();
        var command = new Command("check", "Works the whole book out anew and compares it with what it keeps: a line per comparison with both figures, exit 1 where one differs.") { data };
        command.SetAction(parsed => Check(parsed.GetRequiredValue(data).FullName));
        return command;
    }

    private static int Check(string folder)
    {
        var place = new BookPlace(folder);
        if (!File.Exists(place.Database))
        {
            Console.Error.WriteLine($"There is no book in {folder}.");
            return 2;
        }
        using var services = OneBook.At(place);
        if (services.IsOfThisVersion() is false)
        {
            Console.Error.WriteLine("This book was last opened with another version of the application; open it with this one first: checking changes nothing.");
            return 2;
        }
        using var scope = services.CreateScope();
        return Print(scope.ServiceProvider.GetRequiredService<BookCheck>().Run());
    }

    private static int Print(CheckResult result)
    {
        var width = result.Lines.Max(l => l.Name.Length);
        foreach (var line in result.Lines)
        {
            Console.WriteLine($"{(line.Differences == 0 ? "agrees " : "DIFFERS")}  {line.Name.PadRight(width)}  kept {line.Kept}  comes to {line.WorkedOut}");
            foreach (var difference in line.Shown) Console.WriteLine($"         {difference.What}: kept {difference.Kept}, comes to {difference.WorkedOut}");
            if (line.Differences > line.Shown.Count) Console.WriteLine($"         and {MoneyWords.Count(line.Differences - line.Shown.Count)} more");
        }
        if (result.Waiting is { } waiting) Console.WriteLine($"waits    {MoneyWords.Count(waiting, "order")} are to be worked out again after a change of the rules; orders, entries, exceptions and progress are compared when that is done.");
        Console.WriteLine($"{(result.Differences == 0 ? "The book agrees with itself" : MoneyWords.Count(result.Differences, "difference"))}, checked in {result.Took.TotalSeconds:N1} s.");
        return result.Differences == 0 ? 0 : 1;
    }
}
