using EvenSplit.Books.Model;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.DependencyInjection.Extensions;

namespace EvenSplit.Books;

/// <summary>Who may sign in to the book.</summary>
public static class BookUsers
{
    /// <summary>Long rather than odd: length is what makes a password hard to guess.</summary>
    public static void Configure(IdentityOptions options)
    {
        options.Password.RequiredLength = 12;
        options.Password.RequireDigit = false;
        options.Password.RequireLowercase = false;
        options.Password.RequireUppercase = false;
        options.Password.RequireNonAlphanumeric = false;
    }

    /// <summary>The sign-ins of payees, apart from those of the house.</summary>
    public static IdentityBuilder AddPayeeLogins(IServiceCollection services)
    {
        var builder = services.AddIdentityCore<PayeeLogin>(Configure).AddUserStore<PayeeLoginStore>().AddPasswordValidator<PasswordsOthersHave>();
        // Their names are ids of payees, which may have any characters and are unique already.
        services.RemoveAll<IUserValidator<PayeeLogin>>();
        return builder;
    }

    /// <summary>Adds somebody with one role.</summary>
    /// <exception cref="RefusedException">The name is taken or unfit, the display name is another's, or the password is too weak.</exception>
    /// <param name="madeBy">The lead who adds them; null where it is done at the machine itself, or by the owner of a new book.</param>
    public static async Task AddAsync(IServiceProvider services, string userName, string displayName, string role, string password, string? madeBy = null)
    {
        if (!Roles.All.Contains(role)) throw new RefusedException("Choose a role.", "Role");
        if (string.IsNullOrWhiteSpace(displayName)) throw new RefusedException("Give their name; it stands beside what they do.", "DisplayName");
        var users = services.GetRequiredService<UserManager<BookUser>>();
        // Who prepared and who approved is told apart by this name.
        if (await users.Users.AnyAsync(u => u.DisplayName == displayName.Trim())) throw new RefusedException($"There is a {displayName.Trim()} already; tell them apart.", "DisplayName");
        var roles = services.GetRequiredService<RoleManager<IdentityRole>>();
        if (!await roles.RoleExistsAsync(role)) await roles.CreateAsync(new IdentityRole(role));
        var user = new BookUser { UserName = userName.Trim(), DisplayName = displayName.Trim(), MadeBy = madeBy };
        var result = await users.CreateAsync(user, password);
        if (!result.Succeeded)
        {
            var error = result.Errors.First();
            throw new RefusedException(error.Description, error.Code.StartsWith("Password", StringComparison.Ordinal) ? "Password" : "UserName");
        }
        await users.AddToRoleAsync(user, role);
        EndWorkingAlone(services.GetRequiredService<BookDbContext>(), role);
        services.GetRequiredService<AuditLog>().NoteAlone(madeBy ?? "the machine", $"add a {role}", user.DisplayName);
    }

    /// <summary>Where there is somebody who can confirm, nobody works alone, whatever becomes of them later.</summary>
    internal static void EndWorkingAlone(BookDbContext db, string role)
    {
        if (role is not (Roles.Lead or Roles.Approver) || db.Book.SingleOrDefault() is not { WorksAlone: true } book) return;
        book.WorksAlone = false;
        book.RulesVersion++;
        db.SaveChanges();
    }
}
