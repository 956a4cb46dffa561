using System.CommandLine;
using EvenSplit.Books.Importing;
using Microsoft.Extensions.DependencyInjection;

namespace EvenSplit.Cli;

internal static class SourceCommand
{
    public static Command Make()
    {
        var data = DataOption.Make();
        var name = new Argument<string>("name") { Description = "Which shop it is." };
        var channels = new Option<string[]>("--channel") { Description = "A channel whose orders it reports; may be given several times. Without it: all that no other shop reports." };
        var command = new Command("add-source", "Lets a shop send events to a book, and prints the secret to sign them with.") { name, channels, data };
        command.SetAction(parsed => InBook.Do(parsed.GetRequiredValue(data), services =>
            Task.FromResult(services.GetRequiredService<EventSources>().Add(parsed.GetRequiredValue(name), parsed.GetValue(channels) is { Length: > 0 } given ? given : null, Environment.UserName).Secret)));
        return command;
    }
}
