using System.Globalization;

namespace EvenSplit.Core;

/// <summary>
/// Reads a day as people write it: <c>3 Nov 2026</c>, <c>3.11.</c>, <c>3/11</c>, <c>2026-11-03</c>, <c>today</c>. In figures the day or the month is first as in the country of the book's zone; where
/// only one of the two is a day at all, that one is taken. Without a year it is the one nearest to today.
/// </summary>
public sealed class WrittenDay(DateOnly today, bool isMonthFirst)
{
    /// <summary>What to write, for whoever wrote something else.</summary>
    public const string HowTo = "Write the day as 3 Nov 2026, 3.11. or 2026-11-03.";

    private static readonly string[] InWords = ["d MMM yyyy", "d MMMM yyyy", "MMM d yyyy", "MMMM d yyyy", "yyyy-M-d", "yyyyMMdd"];

    private static readonly string[] DayFirst = ["d-M-yyyy", "d-M-yy"];

    private static readonly string[] MonthFirst = ["M-d-yyyy", "M-d-yy"];

    /// <summary>Zones of the one country that writes the month first.</summary>
    private static readonly string[] ZonesWithMonthFirst =
    [
        "America/New_York", "America/Chicago", "America/Denver", "America/Los_Angeles", "America/Phoenix", "America/Anchorage", "America/Detroit", "America/Boise", "America/Juneau", "America/Sitka", "America/Nome",
        "America/Adak", "America/Menominee", "America/Metlakatla", "America/Yakutat", "Pacific/Honolulu",
    ];

    /// <summary>As days are written where the book's clocks are.</summary>
    /// <param name="today">The book's day.</param>
    public static WrittenDay In(TimeZoneInfo zone, DateOnly today) => new(
        today, ZonesWithMonthFirst.Contains(zone.Id) || zone.Id.StartsWith("America/Indiana/", StringComparison.Ordinal) || zone.Id.StartsWith("America/Kentucky/", StringComparison.Ordinal) || zone.Id.StartsWith("America/North_Dakota/", StringComparison.Ordinal));

    /// <returns>Null where it is no day, or no day that there is.</returns>
    public DateOnly? Read(string written)
    {
        var text = written.Trim();
        switch (text.ToLowerInvariant())
        {
            case "today": return today;
            case "yesterday": return today.AddDays(-1);
            case "tomorrow": return today.AddDays(1);
        }
        var parts = text.Split([' ', '.', '/', '-', ','], StringSplitOptions.RemoveEmptyEntries);
        // Words after figures without a space between, as in 3Nov, are none of them.
        return parts.Length switch
        {
            1 => Exact(text, InWords),
            3 => Whole(string.Join(parts.Any(HasLetters) ? ' ' : '-', parts), parts.Any(HasLetters)),
            2 => Nearest(parts),
            _ => null,
        };
    }

    private DateOnly? Whole(string text, bool isInWords) => Exact(text, InWords) ?? (isInWords ? null : Exact(text, isMonthFirst ? MonthFirst : DayFirst) ?? Exact(text, isMonthFirst ? DayFirst : MonthFirst));

    /// <summary>The year in which it is nearest to today; of a 29 February, one that has it.</summary>
    private DateOnly? Nearest(string[] parts)
    {
        var (isInWords, years) = (parts.Any(HasLetters), Enumerable.Range(today.Year - 4, 9));
        return years.Select(y => Whole($"{parts[0]}{(isInWords ? ' ' : '-')}{parts[1]}{(isInWords ? ' ' : '-')}{y:D4}", isInWords)).OfType<DateOnly>().Select(d => (DateOnly?)d)
            .MinBy(d => Math.Abs(d!.Value.DayNumber - today.DayNumber));
    }

    private static bool HasLetters(string part) => part.Any(char.IsLetter);

    private static DateOnly? Exact(string text, string[] formats) => DateOnly.TryParseExact(text, formats, CultureInfo.InvariantCulture, DateTimeStyles.None, out var day) ? day : null;
}
