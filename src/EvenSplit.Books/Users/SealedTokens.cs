using System.Security.Cryptography;
using EvenSplit.Books.Model;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.Identity;

namespace EvenSplit.Books;

/// <summary>
/// Seals what signs somebody in: the key of an authenticator app and the recovery codes. Whoever has only the database can make no codes of it. What was kept in clear before is sealed as the book
/// is opened.
/// </summary>
public sealed class SealedTokens(IDataProtectionProvider protection) : IUseCase
{
    private const string Mark = "sealed:";

    internal string? Close(string user, string name, string? value) => value is null ? null : Mark + For(user, name).Protect(value);

    /// <returns>Null also where it was sealed for somebody else, or with keys that are lost.</returns>
    internal string? Open(string user, string name, string? kept)
    {
        if (kept is null || !kept.StartsWith(Mark, StringComparison.Ordinal)) return kept;
        try
        {
            return For(user, name).Unprotect(kept[Mark.Length..]);
        }
        catch (CryptographicException)
        {
            return null;
        }
    }

    /// <summary>Seals what was kept in clear.</summary>
    internal void CloseOld(BookDbContext db)
    {
        IEnumerable<IdentityUserToken<string>> clear = [.. db.UserTokens.Where(t => t.Value != null && !t.Value.StartsWith(Mark)), .. db.Set<PayeeLoginToken>().Where(t => t.Value != null && !t.Value.StartsWith(Mark))];
        foreach (var token in clear) token.Value = Close(token.UserId, token.Name, token.Value);
        db.SaveChanges();
    }

    private IDataProtector For(string user, string name) => protection.CreateProtector("EvenSplit.SignIn", user, name);
}
