using System.Globalization;

namespace EvenSplit.Core;

/// <summary>A calendar month of a book, written <c>2026-10</c>.</summary>
/// <param name="Number">Year × 100 + month: 202610. Sorts as the months do.</param>
public readonly record struct Period(int Number)
{
    public static Period Of(DateOnly date) => new(date.Year * 100 + date.Month);

    public static bool TryParse(string? text, out Period period)
    {
        period = default;
        if (!DateOnly.TryParseExact(text + "-01", "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var first)) return false;
        period = Of(first);
        return true;
    }

    public DateOnly FirstDay => new(Number / 100, Number % 100, 1);
    public DateOnly LastDay => FirstDay.AddMonths(1).AddDays(-1);
    public Period Next => Of(FirstDay.AddMonths(1));
    public Period Previous => Of(FirstDay.AddMonths(-1));

    /// <summary>In words: October 2026.</summary>
    public string Name => FirstDay.ToString("MMMM yyyy", CultureInfo.InvariantCulture);

    public override string ToString() => FirstDay.ToString("yyyy-MM", CultureInfo.InvariantCulture);
}
