using System.CommandLine;
using EvenSplit.Books;
using EvenSplit.Books.Importing;
using Microsoft.Extensions.DependencyInjection;

namespace EvenSplit.Cli;

internal static class SourceCommand
{
    public static Command Make()
    {
        var data = DataOption.Make();
        var name = new Argument<string>("name") { Description = "Which shop it is." };
        var command = new Command("add-source", "Lets a shop send events to a book, and prints the secret to sign them with.") { name, data };
        command.SetAction(parsed =>
        {
            using var services = CliServices.For(new BookPlace(parsed.GetRequiredValue(data).FullName));
            services.PrepareBook();
            using var scope = services.CreateScope();
            try
            {
                Console.WriteLine(scope.ServiceProvider.GetRequiredService<EventSources>().Add(parsed.GetRequiredValue(name), Environment.UserName).Secret);
                return 0;
            }
            catch (RefusedException refused)
            {
                Console.Error.WriteLine(refused.Message);
                return 2;
            }
        });
        return command;
    }
}
