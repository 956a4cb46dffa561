using System.Globalization;

namespace EvenSplit.Core;

/// <summary>Reads a month as people write it: <c>Oct 2026</c>, <c>October 2026</c>, <c>10/2026</c>, <c>2026-10</c>.</summary>
public static class WrittenMonth
{
    /// <summary>What to write, for whoever wrote something else.</summary>
    public const string HowTo = "Write the month as Oct 2026 or 2026-10.";

    private static readonly string[] Forms = ["MMM yyyy", "MMMM yyyy", "yyyy MMM", "yyyy MMMM", "M yyyy", "yyyy M"];

    /// <returns>Null where it is none.</returns>
    public static Period? Read(string written)
    {
        var text = string.Join(' ', written.Split([' ', '.', '/', '-', ','], StringSplitOptions.RemoveEmptyEntries));
        return DateOnly.TryParseExact(text, Forms, CultureInfo.InvariantCulture, DateTimeStyles.None, out var first) ? Period.Of(first) : null;
    }

    /// <summary>As it is shown in a field: <c>Oct 2026</c>.</summary>
    public static string InWords(Period month) => month.FirstDay.ToString("MMM yyyy", CultureInfo.InvariantCulture);
}
