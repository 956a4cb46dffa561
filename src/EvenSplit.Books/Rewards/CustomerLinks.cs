using System.Security.Cryptography;
using Microsoft.AspNetCore.DataProtection;

namespace EvenSplit.Books.Rewards;

/// <summary>Links by which customers see the friends they brought: sealed with the book's keys, so that nobody makes one up.</summary>
public sealed class CustomerLinks(IDataProtectionProvider protection) : IUseCase
{
    private const int Longest = 1000;

    private readonly IDataProtector _protector = protection.CreateProtector("EvenSplit.CustomerLinks");

    public string TokenOf(string customerKey) => _protector.Protect(customerKey);

    /// <returns>The customer's key; null where the token is none of ours.</returns>
    public string? CustomerOf(string token)
    {
        if (token.Length > Longest) return null;
        try
        {
            return _protector.Unprotect(token);
        }
        catch (CryptographicException)
        {
            return null;
        }
    }
}
