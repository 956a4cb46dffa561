using System.Security.Cryptography;
using Microsoft.AspNetCore.DataProtection;

namespace EvenSplit.Books;

/// <summary>
/// Seals what signs somebody in: the key of an authenticator app and the recovery codes. Whoever has only the database can make no codes of it. What was kept in clear before is read as it is, and sealed as it is
/// next written.
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

    private IDataProtector For(string user, string name) => protection.CreateProtector("EvenSplit.SignIn", user, name);
}
