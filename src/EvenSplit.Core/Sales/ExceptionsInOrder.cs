namespace EvenSplit.Core;

/// <summary>
/// Puts many exceptions into the order in which they are listed: first by numbers made of their codes and the beginnings of their orders' ids, and by all
/// they are only where those are the same. Following half a million to their ids for each comparison takes ten times as long.
/// </summary>
internal static class ExceptionsInOrder
{
    /// <summary>Below so many, what is made for each is not worth it.</summary>
    private const int Many = 1000;

    private const int CharsInKey = 7;
    private const int BitsOfChar = 16;

    public static void Sort(CalculationException[] exceptions, Comparison<CalculationException> listing)
    {
        if (exceptions.Length < Many)
        {
            Array.Sort(exceptions, listing);
            return;
        }
        var shared = SharedBeginning(exceptions);
        var keys = Array.ConvertAll(exceptions, e => Key(e, shared));
        Array.Sort(keys, exceptions);
        var byListing = Comparer<CalculationException>.Create(listing);
        for (var (start, end) = (0, 1); start < keys.Length; start = end++)
        {
            while (end < keys.Length && keys[end] == keys[start]) end++;
            if (end - start > 1) Array.Sort(exceptions, start, end - start, byListing);
        }
    }

    /// <summary>How many characters all ids of orders begin with that are the same.</summary>
    private static int SharedBeginning(CalculationException[] exceptions)
    {
        string? first = null;
        var shared = 0;
        foreach (var exception in exceptions)
        {
            if (exception.Order is not { } order) continue;
            if (first is null) (first, shared) = (order.Value, order.Value.Length);
            else shared = first.AsSpan(0, shared).CommonPrefixLength(order.Value);
        }
        return shared;
    }

    /// <summary>Never larger than that of one listed later.</summary>
    private static UInt128 Key(CalculationException exception, int shared)
    {
        var key = (UInt128)(uint)exception.Code;
        var id = exception.Order is { } order ? order.Value.AsSpan(shared) : [];
        for (var i = 0; i < CharsInKey; i++) key = key << BitsOfChar | (i < id.Length ? Place(id[i]) : 0u);
        return key;
    }

    /// <summary>Halves of a pair come after all others, as in <see cref="IdOrder"/>.</summary>
    private static uint Place(char c) => char.IsSurrogate(c) ? c + 0x2000u : c > '\uDFFF' ? c - 0x800u : c;
}
