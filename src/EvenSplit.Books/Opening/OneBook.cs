using EvenSplit.Books.Model;
using Microsoft.AspNetCore.Identity;
using Microsoft.Extensions.DependencyInjection;

namespace EvenSplit.Books;

/// <summary>A book and its users without a site around them: for one command, or for making one.</summary>
public static class OneBook
{
    public static ServiceProvider At(BookPlace place)
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
