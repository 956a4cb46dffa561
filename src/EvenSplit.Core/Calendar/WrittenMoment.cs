using System.Globalization;

namespace EvenSplit.Core;

/// <summary>Reads a day with a time of day as people write it: a day as <see cref="WrittenDay"/> takes it, then <c>14:30</c> or <c>14:30:05</c>. Without a time it is midnight. In no zone: it is as the clock showed.</summary>
public static class WrittenMoment
{
    /// <summary>What to write, for whoever wrote something else.</summary>
    public const string HowTo = "Write it as 3 Nov 2026 14:30.";

    private static readonly string[] Times = ["H:mm", "H:mm:ss"];

    /// <returns>Null where it is none.</returns>
    public static DateTime? Read(string written, WrittenDay days)
    {
        var text = written.Trim();
        // As machines write it.
        if (DateTime.TryParseExact(text, ["yyyy-MM-ddTHH:mm", "yyyy-MM-ddTHH:mm:ss", "yyyy-MM-dd HH:mm", "yyyy-MM-dd HH:mm:ss"], CultureInfo.InvariantCulture, DateTimeStyles.None, out var exact)) return exact;
        var space = text.LastIndexOf(' ');
        if (space > 0 && text[space..].Contains(':', StringComparison.Ordinal))
        {
            return TimeOnly.TryParseExact(text[(space + 1)..], Times, CultureInfo.InvariantCulture, DateTimeStyles.None, out var time) && days.Read(text[..space].TrimEnd(',')) is { } of ? of.ToDateTime(time) : null;
        }
        return days.Read(text)?.ToDateTime(TimeOnly.MinValue);
    }

    /// <summary>As it is shown in a field: <c>3 Nov 2026 14:30</c>.</summary>
    public static string InWords(DateTime moment) => moment.ToString(moment.Second == 0 ? "d MMM yyyy HH:mm" : "d MMM yyyy HH:mm:ss", CultureInfo.InvariantCulture);
}
