using EvenSplit.Books.Model;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Identity.EntityFrameworkCore;

namespace EvenSplit.Books;

/// <summary>Keeps the people of the house, what signs them in sealed.</summary>
public sealed class BookUserStore(BookDbContext db, SealedTokens tokens) : UserStore<BookUser, IdentityRole, BookDbContext>(db)
{
    public override Task SetTokenAsync(BookUser user, string loginProvider, string name, string? value, CancellationToken cancellationToken) =>
        base.SetTokenAsync(user, loginProvider, name, tokens.Close(user.Id, name, value), cancellationToken);

    public override async Task<string?> GetTokenAsync(BookUser user, string loginProvider, string name, CancellationToken cancellationToken) =>
        tokens.Open(user.Id, name, await base.GetTokenAsync(user, loginProvider, name, cancellationToken));
}
