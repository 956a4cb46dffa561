namespace EvenSplit.Core;

/// <summary>From the start of the first day to the start of the second, in the book's zone; null is without end on that side.</summary>
public readonly record struct DateSpan(DateOnly? From, DateOnly? Before);

/// <summary>Finds on which days two things that change only on known days are not the same.</summary>
internal static class DatesApart
{
    /// <param name="boundaries">The days on which either may change.</param>
    /// <param name="differ">Whether they differ on a day.</param>
    /// <returns>The shortest span with every such day in it; null where there is none.</returns>
    public static DateSpan? Of(IEnumerable<DateOnly?> boundaries, Func<DateOnly, bool> differ)
    {
        DateOnly[] starts = [DateOnly.MinValue, .. boundaries.OfType<DateOnly>().Where(d => d > DateOnly.MinValue).Distinct().Order()];
        var (first, last) = (-1, -1);
        for (var i = 0; i < starts.Length; i++)
        {
            if (!differ(starts[i])) continue;
            if (first < 0) first = i;
            last = i;
        }
        if (first < 0) return null;
        return new DateSpan(first == 0 ? null : starts[first], last + 1 < starts.Length ? starts[last + 1] : null);
    }
}
