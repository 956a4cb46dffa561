using System.Buffers.Binary;
using System.Globalization;
using System.Security.Cryptography;

namespace EvenSplit.Web.Tests;

/// <summary>What an authenticator app shows, by RFC 6238 and nothing of ours: six digits, SHA-1, thirty seconds.</summary>
internal static class AppCodes
{
    private const string Base32 = "ABCDEFGHIJKLMNOPQRSTUVWXYZ234567";

    /// <param name="key">As the page shows it, in Base32.</param>
    /// <param name="steps">How many half minutes from now.</param>
    public static string Of(string key, int steps = 0)
    {
        var bits = string.Concat(key.Where(c => !char.IsWhiteSpace(c)).Select(c => Convert.ToString(Base32.IndexOf(char.ToUpperInvariant(c), StringComparison.Ordinal), 2).PadLeft(5, '0')));
        var secret = Enumerable.Range(0, bits.Length / 8).Select(i => Convert.ToByte(bits.Substring(i * 8, 8), 2)).ToArray();
        var counter = new byte[8];
        BinaryPrimitives.WriteInt64BigEndian(counter, DateTimeOffset.UtcNow.ToUnixTimeSeconds() / 30 + steps);
#pragma warning disable CA5350 // The standard says so.
        var hash = HMACSHA1.HashData(secret, counter);
#pragma warning restore CA5350
        var number = BinaryPrimitives.ReadInt32BigEndian(hash.AsSpan(hash[^1] & 15)) & 0x7FFFFFFF;
        return (number % 1_000_000).ToString("D6", CultureInfo.InvariantCulture);
    }
}
