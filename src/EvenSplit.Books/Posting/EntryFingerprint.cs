using System.Globalization;
using EvenSplit.Books.Model;

namespace EvenSplit.Books.Posting;

/// <summary>
/// A number that says what an entry was posted as. The sum over a payee's entries of a month is kept, so that a figure changed behind the
/// application's back shows even where nothing else could tell it, such as the day of posting.
/// </summary>
internal static class EntryFingerprint
{
    /// <summary>Fingerprints and their sums keep to 62 bits: two of them add up within what SQLite counts in whole numbers.</summary>
    public const long Mask = (1L << 62) - 1;

    /// <summary>FNV-1a, 64 bit, over everything of an entry that never changes.</summary>
    public static long Of(EntryRecord e)
    {
        const ulong offsetBasis = 14695981039346656037, prime = 1099511628211;
        var hash = offsetBasis;
        Span<char> letters = stackalloc char[256 + e.Payee.Length + e.Agreement.Length];
        letters.TryWrite(
            CultureInfo.InvariantCulture, $"{e.Id}|{e.OrderId}|{e.LineNumber}|{e.Payee}|{e.Agreement}|{(int)e.Part}|{e.RefundId}|{e.Amount}|{e.Currency}|{e.PostedOn.DayNumber}", out var length);
        foreach (var letter in letters[..length]) hash = unchecked((hash ^ letter) * prime);
        return (long)(hash & (ulong)Mask);
    }

    /// <param name="more">Below 0 to take one off.</param>
    public static long Add(long sum, long more) => unchecked(sum + more) & Mask;
}
