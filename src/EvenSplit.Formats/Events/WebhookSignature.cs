using System.Globalization;
using System.Security.Cryptography;
using System.Text;

namespace EvenSplit.Formats.Events;

/// <summary>Signs webhooks and checks their signatures, as the Standard Webhooks specification says: HMAC-SHA256 over id, timestamp and body.</summary>
public static class WebhookSignature
{
    /// <summary>What a secret begins with when it is written down.</summary>
    public const string SecretPrefix = "whsec_";

    /// <summary>How far the sender's clock may be off, and how old a message may be.</summary>
    public static readonly TimeSpan Tolerance = TimeSpan.FromMinutes(5);

    private const int SecretBytes = 32;

    public static string NewSecret() => SecretPrefix + Convert.ToBase64String(RandomNumberGenerator.GetBytes(SecretBytes));

    /// <param name="timestamp">Seconds since 1970.</param>
    public static string Sign(string secret, string id, long timestamp, ReadOnlySpan<byte> body) => "v1," + Convert.ToBase64String(Digest(secret, id, timestamp, body));

    /// <summary>Whether any of the signatures in the header (with a space between) is right, and the message is neither old nor from the future.</summary>
    public static bool IsRight(string secret, string id, string timestamp, string signatures, ReadOnlySpan<byte> body, DateTimeOffset now)
    {
        if (id.Length == 0 || !long.TryParse(timestamp, NumberStyles.None, CultureInfo.InvariantCulture, out var seconds)) return false;
        if (Math.Abs(now.ToUnixTimeSeconds() - (decimal)seconds) > (decimal)Tolerance.TotalSeconds) return false;
        var right = Digest(secret, id, seconds, body);
        var found = false;
        // Every one is compared, and each in the same time, so that nothing is learnt from how long it took.
        foreach (var signature in signatures.Split(' ', StringSplitOptions.RemoveEmptyEntries))
        {
            if (!signature.StartsWith("v1,", StringComparison.Ordinal)) continue;
            var given = new byte[right.Length + 3];
            if (Convert.TryFromBase64String(signature[3..], given, out var length) && length == right.Length) found |= CryptographicOperations.FixedTimeEquals(given.AsSpan(0, length), right);
        }
        return found;
    }

    private static byte[] Digest(string secret, string id, long timestamp, ReadOnlySpan<byte> body)
    {
        var key = Convert.FromBase64String(secret.StartsWith(SecretPrefix, StringComparison.Ordinal) ? secret[SecretPrefix.Length..] : secret);
        using var hash = IncrementalHash.CreateHMAC(HashAlgorithmName.SHA256, key);
        hash.AppendData(Encoding.UTF8.GetBytes(string.Create(CultureInfo.InvariantCulture, $"{id}.{timestamp}.")));
        hash.AppendData(body);
        return hash.GetHashAndReset();
    }
}
