using EvenSplit.Books;
using EvenSplit.Books.Model;
using Microsoft.AspNetCore.Identity;
using Microsoft.Extensions.DependencyInjection;

namespace EvenSplit.Cli;

/// <summary>The book and its users, for one command.</summary>
internal static class CliServices
{
    public static ServiceProvider For(BookPlace place)
    {
        Directory.CreateDirectory(place.Folder);
        var services = new ServiceCollection();
        services.AddLogging();
        services.AddBook(place);
        services.AddIdentityCore<BookUser>(BookUsers.Configure).AddRoles<IdentityRole>().AddEntityFrameworkStores<BookDbContext>().AddUserStore<BookUserStore>().AddPasswordValidator<PasswordsOthersHave>();
        BookUsers.AddPayeeLogins(services);
        return services.BuildServiceProvider();
    }
}
