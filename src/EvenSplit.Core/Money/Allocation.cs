using System.Buffers;
using System.Numerics;

namespace EvenSplit.Core;

/// <summary>Sharing a whole total without losing a unit: <b>allocate</b> of the contract, section 1.</summary>
public static class Allocation
{
    /// <summary>
    /// Shares <paramref name="total"/> minor units in proportion to <paramref name="weights"/>; the parts always sum to the total.
    /// Units left over go to the largest fractional parts, ties to the earlier item.
    /// </summary>
    /// <exception cref="ArgumentException">No weights, or one below 0.</exception>
    public static long[] Allocate(long total, ReadOnlySpan<long> weights) => Allocate(total, weights, []);

    /// <summary>As above; ties go to the item that comes first by <paramref name="ties"/> (one per weight).</summary>
    public static long[] Allocate(long total, ReadOnlySpan<long> weights, ReadOnlySpan<TieKey> ties)
    {
        var parts = new long[weights.Length];
        Allocate(total, weights, ties, parts);
        return parts;
    }

    /// <summary>As above, into <paramref name="parts"/>, which must be as long as the weights.</summary>
    public static void Allocate(long total, ReadOnlySpan<long> weights, ReadOnlySpan<TieKey> ties, Span<long> parts)
    {
        if (weights.IsEmpty) throw new ArgumentException("There is nobody to allocate to.", nameof(weights));
        parts.Clear();
        if (total == 0) return;
        if (weights.Length == 1)
        {
            parts[0] = total;
            return;
        }
        Int128 sum = 0;
        foreach (var weight in weights)
        {
            ArgumentOutOfRangeException.ThrowIfNegative(weight, nameof(weights));
            sum += weight;
        }
        // All weights 0 count as equal.
        var even = sum == 0;
        if (even) sum = weights.Length;
        var magnitude = Int128.Abs(total);
        // No weight is above the sum: where this product fits, all do.
        if (sum * magnitude <= long.MaxValue) Share((long)magnitude, weights, even, (long)sum, ties, parts);
        else Share(magnitude, weights, even, sum, ties, parts);
        if (total < 0)
        {
            for (var i = 0; i < parts.Length; i++) parts[i] = -parts[i];
        }
    }

    private static void Share<TWhole>(TWhole total, ReadOnlySpan<long> weights, bool even, TWhole sum, ReadOnlySpan<TieKey> ties, Span<long> parts)
        where TWhole : struct, IBinaryInteger<TWhole>, ISignedNumber<TWhole>
    {
        var remainders = ArrayPool<TWhole>.Shared.Rent(weights.Length);
        var left = total;
        for (var i = 0; i < weights.Length; i++)
        {
            var (part, remainder) = TWhole.DivRem(total * (even ? TWhole.One : TWhole.CreateTruncating(weights[i])), sum);
            parts[i] = long.CreateChecked(part);
            remainders[i] = remainder;
            left -= part;
        }
        for (; left > TWhole.Zero; left--)
        {
            var best = 0;
            for (var i = 1; i < weights.Length; i++)
            {
                if (remainders[i] > remainders[best]
                    || (remainders[i] == remainders[best] && !ties.IsEmpty && ties[i].CompareTo(ties[best]) < 0))
                {
                    best = i;
                }
            }
            parts[best]++;
            remainders[best] = TWhole.NegativeOne;
        }
        ArrayPool<TWhole>.Shared.Return(remainders);
    }

    /// <summary>Shares in equal parts, odd units by tie key.</summary>
    public static long[] AllocateEvenly<TTies>(long total, int count, TTies ties) where TTies : ITies, allows ref struct =>
        Allocate(total, new long[count], total % count == 0 ? [] : Keys(count, ties));

    /// <summary>
    /// Rounds exact parts of one line and rank together (contract, section 6): their exact sum is rounded once, each gets the floor of its
    /// part, and the missing units go one each to the largest fractional parts, ties by tie key.
    /// </summary>
    public static long[] RoundTogether<TTies>(ReadOnlySpan<Fraction> parts, TTies ties) where TTies : ITies, allows ref struct
    {
        if (parts.Length == 1) return [parts[0].Round()];
        var rounded = new long[parts.Length];
        var sum = Fraction.Zero;
        long floors = 0;
        for (var i = 0; i < parts.Length; i++)
        {
            sum += parts[i];
            rounded[i] = parts[i].Floor();
            floors += rounded[i];
        }
        var missing = sum.Round() - floors;
        if (missing == 0) return rounded;
        TieKey[]? keys = null;
        var fractions = new Fraction[parts.Length];
        for (var i = 0; i < parts.Length; i++) fractions[i] = parts[i] - rounded[i];
        for (; missing > 0; missing--)
        {
            var best = 0;
            for (var i = 1; i < parts.Length; i++)
            {
                var order = fractions[i].CompareTo(fractions[best]);
                if (order == 0) keys ??= Keys(parts.Length, ties);
                if (order > 0 || (order == 0 && keys![i].CompareTo(keys[best]) < 0)) best = i;
            }
            rounded[best]++;
            fractions[best] = -1;
        }
        return rounded;
    }

    private static TieKey[] Keys<TTies>(int count, TTies ties) where TTies : ITies, allows ref struct
    {
        var keys = new TieKey[count];
        for (var i = 0; i < count; i++) keys[i] = ties.Of(i);
        return keys;
    }
}
