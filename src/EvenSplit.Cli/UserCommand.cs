using System.CommandLine;
using System.Security.Cryptography;
using EvenSplit.Books;
using EvenSplit.Books.Keeping;
using EvenSplit.Books.Model;
using Microsoft.Extensions.DependencyInjection;

namespace EvenSplit.Cli;

/// <summary>Somebody who may sign in: a book made of a scenario has nobody, and who forgot everything has a way back in on the machine itself.</summary>
internal static class UserCommand
{
    private const int Digits = 16;

    /// <summary>Where there is nobody else who could: whoever has the machine has the book.</summary>
    public static Command MakeConfirm()
    {
        var data = DataOption.Make();
        var name = new Argument<string>("name") { Description = "The name they sign in with." };
        var command = new Command("confirm-user", "Confirms the role that somebody was given, where nobody else can.") { name, data };
        command.SetAction(parsed => InBook.Do(parsed.GetRequiredValue(data), services =>
        {
            services.GetRequiredService<UserDesk>().ConfirmAtTheMachine(parsed.GetRequiredValue(name), Environment.UserName);
            return Task.FromResult($"{parsed.GetRequiredValue(name)} is confirmed.");
        }));
        return command;
    }

    /// <summary>A book whose only lead has nobody to confirm anything.</summary>
    public static Command MakeAlone()
    {
        var data = DataOption.Make();
        var command = new Command("works-alone", "Says that one person does everything in a book: nobody else confirms, and runs and statements say so.") { data };
        command.SetAction(parsed => InBook.Do(parsed.GetRequiredValue(data), services =>
        {
            services.GetRequiredService<BookSafety>().WorkAlone(Environment.UserName);
            return Task.FromResult("One person works alone in this book from here on, until a lead or an approver is added.");
        }));
        return command;
    }

    public static Command Make()
    {
        var data = DataOption.Make();
        var name = new Argument<string>("name") { Description = "The name to sign in with." };
        var role = new Option<string>("--role") { Description = "lead, approver or bookkeeper.", DefaultValueFactory = _ => Roles.Lead };
        var command = new Command("add-user", "Lets somebody sign in to a book, and prints their password.") { name, role, data };
        command.SetAction(parsed => InBook.Do(parsed.GetRequiredValue(data), async services =>
        {
            var (userName, password) = (parsed.GetRequiredValue(name), RandomNumberGenerator.GetHexString(Digits, lowercase: true));
            await BookUsers.AddAsync(services, userName, userName, parsed.GetRequiredValue(role), password);
            return password;
        }));
        return command;
    }
}
