using System.Globalization;
using System.Text.RegularExpressions;

namespace EvenSplit.Formats.Shops;

/// <summary>Turns cells as shops write them into cells as ours are written. Nothing is rounded, and what could mean two things is not taken.</summary>
internal static partial class ShopCells
{
    private static readonly string[] Times = ["HH:mm:ss", "HH:mm", "H:mm:ss", "H:mm", "h:mm tt", "h:mm:ss tt", "hh:mm tt", "hh:mm:ss tt"];
    private static readonly string[] Written = ["d MMM yyyy", "d MMMM yyyy", "MMM d yyyy", "MMMM d yyyy", "yyyy-MM-dd", "yyyy/MM/dd", "yyyy/M/d", "yyyy.MM.dd", "yyyyMMdd"];
    private static readonly string[] DayFirst = ["d/M/yyyy", "d.M.yyyy", "d-M-yyyy", "d/M/yy", "d.M.yy", "d-M-yy"];
    private static readonly string[] MonthFirst = ["M/d/yyyy", "M.d.yyyy", "M-d-yyyy", "M/d/yy", "M.d.yy", "M-d-yy"];

    /// <summary>An amount with a point and nothing else; null where it is none in this writing.</summary>
    /// <param name="signIsDropped">For what is known to be taken off, such as a discount: −5.00 and 5.00 say the same there.</param>
    public static string? Amount(string cell, DecimalMark mark, bool signIsDropped)
    {
        var text = Signs().Replace(cell, "").Replace('−', '-');
        var isNegative = text.StartsWith('-') || text.EndsWith('-') || (text.StartsWith('(') && text.EndsWith(')'));
        text = text.Trim('-', '+', '(', ')');
        // 1.234,50 and 1'234,50 with a comma; 1,234.50 with a point.
        var isSound = mark == DecimalMark.Comma ? CommaAmount().IsMatch(text) : PointAmount().IsMatch(text);
        if (!isSound) return null;
        text = mark == DecimalMark.Comma ? text.Replace(".", "", StringComparison.Ordinal).Replace(',', '.') : text.Replace(",", "", StringComparison.Ordinal);
        text = text.Replace("'", "", StringComparison.Ordinal).Replace("’", "", StringComparison.Ordinal);
        return isNegative && !signIsDropped && text.Any(c => c is >= '1' and <= '9') ? "-" + text : text;
    }

    /// <summary>Which way of writing decimals the amount can only be in; null where it can be either or none.</summary>
    public static DecimalMark? MarkOf(string cell)
    {
        var (comma, point) = (Amount(cell, DecimalMark.Comma, true), Amount(cell, DecimalMark.Point, true));
        return comma is null == point is null ? null : comma is not null ? DecimalMark.Comma : DecimalMark.Point;
    }

    /// <summary>A day as 2026-10-31, any time of day left off; null where it is none in this writing.</summary>
    public static string? Date(string cell, DateOrder? order) => Parts(cell, order)?.Day.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);

    /// <summary>
    /// A time as our files write it: with the file's offset where it gives one, in UTC where all its times are, else in the book's zone. A day without a time is taken at
    /// noon, which is in every zone on that day.
    /// </summary>
    public static string? Instant(string cell, DateOrder? order, bool isInUtc)
    {
        if (Parts(cell, order) is not var (day, time, offset)) return null;
        var at = string.Create(CultureInfo.InvariantCulture, $"{day:yyyy-MM-dd} {time ?? new TimeOnly(12, 0):HH:mm:ss}");
        return offset.Length > 0 ? at.Replace(' ', 'T') + offset : isInUtc && time is not null ? at.Replace(' ', 'T') + "Z" : at;
    }

    /// <summary>Which order of day and month the date can only be in; null where it can be either, or is none.</summary>
    public static DateOrder? OrderOf(string cell)
    {
        var (day, month) = (Parts(cell, DateOrder.DayFirst)?.Day, Parts(cell, DateOrder.MonthFirst)?.Day);
        return day is null == month is null ? null : day is not null ? DateOrder.DayFirst : DateOrder.MonthFirst;
    }

    public static string YesNo(string cell) => cell.Trim().ToLowerInvariant() switch
    {
        "ja" or "oui" or "si" or "sí" or "sim" or "x" or "✓" or "t" or "on" => "yes",
        "nein" or "non" or "nee" or "não" or "-" or "f" or "off" => "no",
        _ => cell,
    };

    public static string Count(string cell) => WholeNumber().Match(cell) is { Success: true } whole ? whole.Groups[1].Value : cell;

    public static string Currency(string cell) => cell switch { "€" => "EUR", "£" => "GBP", "US$" => "USD", "¥" => "JPY", _ => cell.ToUpperInvariant() };

    /// <summary>Several in a cell with a space between, however they were parted.</summary>
    public static string List(string cell) => string.Join(' ', cell.Split([' ', ',', ';', '|'], StringSplitOptions.RemoveEmptyEntries));

    private static (DateOnly Day, TimeOnly? Time, string Offset)? Parts(string cell, DateOrder? order)
    {
        var match = Moment().Match(cell.Trim());
        if (!match.Success) return null;
        var formats = order switch { DateOrder.DayFirst => [.. Written, .. DayFirst], DateOrder.MonthFirst => [.. Written, .. MonthFirst], _ => Written };
        if (!DateOnly.TryParseExact(match.Groups["day"].Value.Replace(",", "", StringComparison.Ordinal).Replace(". ", " ", StringComparison.Ordinal), formats, CultureInfo.InvariantCulture, DateTimeStyles.AllowWhiteSpaces, out var day)) return null;
        TimeOnly? time = null;
        if (match.Groups["time"].Value is { Length: > 0 } written)
        {
            if (!TimeOnly.TryParseExact(written.ToUpperInvariant(), Times, CultureInfo.InvariantCulture, DateTimeStyles.None, out var read)) return null;
            time = read;
        }
        var offset = match.Groups["offset"].Value;
        if (offset is "UTC" or "GMT" or "z") offset = "Z";
        return (day, time, offset.Length == 5 ? offset.Insert(3, ":") : offset);
    }

    /// <summary>Spaces of all kinds, signs and codes of currencies, the sign of per cent.</summary>
    [GeneratedRegex(@"[\s\u00A0\u202F€£$¥₣₤%]|^[A-Z]{3}(?=[\s\d−-])|(?<=[\s\d])[A-Z]{3}$|kr\.?$")]
    private static partial Regex Signs();

    [GeneratedRegex(@"^(\d{1,3}([.'’]\d{3})+|\d+)(,\d+)?$")]
    private static partial Regex CommaAmount();

    [GeneratedRegex(@"^(\d{1,3}([,'’]\d{3})+|\d+)(\.\d+)?$")]
    private static partial Regex PointAmount();

    [GeneratedRegex(@"^(\d+)[.,]0+$")]
    private static partial Regex WholeNumber();

    [GeneratedRegex(@"^(?<day>\d{1,4}[-/.]\d{1,2}[-/.]\d{1,4}|\d{8}|\d{1,2}\.? \p{L}+\.?,? \d{4}|\p{L}+\.? \d{1,2},? \d{4})(?:[T,]?\s*(?<time>\d{1,2}:\d{2}(?::\d{2})?(?:\s?[AaPp][Mm])?)(?:\.\d+)?)?\s*(?<offset>Z|z|UTC|GMT|[+-]\d{2}:?\d{2})?$")]
    private static partial Regex Moment();
}
