using System.Security.Cryptography;
using System.Text;

namespace EvenSplit.Web.Serving;

/// <summary>What the owner of a new book shows: only who sees the console of the machine knows it. Another at each start, worth nothing once the book is open.</summary>
public sealed class OwnerCode
{
    private const string Letters = "ABCDEFGHJKLMNPQRSTUVWXYZ23456789";
    private const int Length = 10;

    public string Text { get; } = RandomNumberGenerator.GetString(Letters, Length);

    public bool IsRight(string? typed) =>
        CryptographicOperations.FixedTimeEquals(Encoding.UTF8.GetBytes(string.Concat((typed ?? "").Where(char.IsAsciiLetterOrDigit)).ToUpperInvariant()), Encoding.UTF8.GetBytes(Text));
}
