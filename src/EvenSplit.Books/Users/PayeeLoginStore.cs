using EvenSplit.Books.Model;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Identity.EntityFrameworkCore;

namespace EvenSplit.Books;

/// <summary>Keeps the sign-ins of payees, in tables apart from those of the house, and what signs them in sealed.</summary>
public sealed class PayeeLoginStore(BookDbContext db, SealedTokens tokens)
    : UserOnlyStore<PayeeLogin, BookDbContext, string, IdentityUserClaim<string>, IdentityUserLogin<string>, PayeeLoginToken, PayeePasskey>(db)
{
    public override Task SetTokenAsync(PayeeLogin user, string loginProvider, string name, string? value, CancellationToken cancellationToken) =>
        base.SetTokenAsync(user, loginProvider, name, tokens.Close(user.Id, name, value), cancellationToken);

    public override async Task<string?> GetTokenAsync(PayeeLogin user, string loginProvider, string name, CancellationToken cancellationToken) =>
        tokens.Open(user.Id, name, await base.GetTokenAsync(user, loginProvider, name, cancellationToken));
}
