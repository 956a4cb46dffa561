using System.CommandLine;
using EvenSplit.Books;
using EvenSplit.Demo;

namespace EvenSplit.Cli;

internal static class DemoCommand
{
    public static Command Make()
    {
        var data = DataOption.Make();
        var shop = new Option<string>("--shop") { Description = "Where the stand-in shop is served, such as http://127.0.0.1:5081.", Required = true };
        var command = new Command("make-demo", "Makes the demonstration book, unless it is there already.") { data, shop };
        command.SetAction(async (parsed, _) =>
        {
            var place = new BookPlace(parsed.GetRequiredValue(data).FullName);
            var demo = new DemoBook(place, Console.Out.WriteLine);
            if (File.Exists(Path.Combine(place.Folder, "ready")))
            {
                demo.SetShop(parsed.GetRequiredValue(shop));
                return 0;
            }
            // One that was interrupted while it was made is of no use.
            if (Directory.Exists(place.Folder)) Directory.Delete(place.Folder, recursive: true);
            Directory.CreateDirectory(place.Folder);
            await demo.MakeAsync();
            demo.SetShop(parsed.GetRequiredValue(shop));
            await File.WriteAllTextAsync(Path.Combine(place.Folder, "ready"), "");
            return 0;
        });
        return command;
    }
}

internal static class DataOption
{
    public static Option<DirectoryInfo> Make() => new("--data") { Description = "The folder of the book.", Required = true };
}
