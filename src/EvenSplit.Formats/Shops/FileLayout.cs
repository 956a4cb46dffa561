using EvenSplit.Formats.Csv;

namespace EvenSplit.Formats.Shops;

/// <summary>In which order a file writes the parts of a date. Dates as in 2026-10-31 are read in any.</summary>
public enum DateOrder { DayFirst, MonthFirst }

public enum DecimalMark { Point, Comma }

/// <summary>
/// How somebody else's file says what ours say: what it calls our columns, what it does not say because it is the same in every row, and how it writes dates and amounts.
/// </summary>
public sealed record FileLayout
{
    private const string NotRead = "not read";
    private const string Numbered = "numbered";
    private const string OfTheLine = "of the whole line";

    /// <summary>A file as ours are.</summary>
    public static FileLayout Ours { get; } = new();

    /// <summary>What the file calls a column, by our name.</summary>
    public IReadOnlyDictionary<string, string> Columns { get; init; } = new Dictionary<string, string>();

    /// <summary>What holds for every row and stands in none, by our column.</summary>
    public IReadOnlyDictionary<string, string> Always { get; init; } = new Dictionary<string, string>();

    /// <summary>Null where dates are written as in 2026-10-31 only.</summary>
    public DateOrder? Dates { get; init; }

    /// <summary>Null where amounts are written as in our own files: a point, no separators between thousands, no sign of a currency.</summary>
    public DecimalMark? Decimals { get; init; }

    /// <summary>Whether times without an offset are in UTC; else they are in the book's zone.</summary>
    public bool IsInUtc { get; init; }

    /// <summary>Whether the lines of an order are numbered as they come, because the file gives them no id.</summary>
    public bool NumbersLines { get; init; }

    /// <summary>Whether the file's price is that of the whole line, not of one unit.</summary>
    public bool PriceIsOfLine { get; init; }

    /// <summary>Whether columns that are not named here are not read, even where they are called as ours.</summary>
    public bool OthersAreNotRead { get; init; }

    public bool IsOurs => Columns.Count + Always.Count == 0 && !OthersAreNotRead;

    /// <summary>Our columns that a column of the file is read as; one that is not named here is read under its own name.</summary>
    internal IEnumerable<string> Ourselves(string theirs)
    {
        var named = Columns.Where(c => string.Equals(c.Value, theirs, StringComparison.OrdinalIgnoreCase)).Select(c => c.Key).ToArray();
        return named.Length > 0 ? named : OthersAreNotRead || Columns.ContainsKey(theirs.ToLowerInvariant()) || Always.ContainsKey(theirs.ToLowerInvariant()) ? [] : [theirs];
    }

    /// <summary>Whether a file with these column names can be read so.</summary>
    public bool Fits(IReadOnlyCollection<string> header) => !IsOurs && Columns.Values.All(c => header.Contains(c, StringComparer.OrdinalIgnoreCase));

    /// <summary>As it is remembered and can be typed: a line each, <c>quantity = Qty</c>, <c>channel = "web shop"</c>, <c>dates: day first</c>.</summary>
    public override string ToString() => string.Join('\n',
    [
        .. Columns.Select(c => $"{c.Key} = {c.Value}"),
        .. Always.Select(a => $"{a.Key} = \"{a.Value}\""),
        .. Settings.Where(s => s.Get(this) is not null).Select(s => $"{s.Name}: {s.Get(this)}"),
    ]);

    /// <param name="text">As <see cref="ToString"/> writes it.</param>
    /// <param name="fault">What is wrong with a line, in a sentence.</param>
    public static bool TryParse(string text, CsvColumns columns, out FileLayout layout, out string fault)
    {
        var (named, always) = (new Dictionary<string, string>(), new Dictionary<string, string>());
        (layout, fault) = (Ours, "");
        foreach (var line in text.Split('\n', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries))
        {
            if (Setting(line) is { } setting)
            {
                layout = setting.Set(layout, line[(setting.Name.Length + 1)..].Trim());
                continue;
            }
            var equals = line.IndexOf('=', StringComparison.Ordinal);
            var (our, theirs) = equals < 0 ? (line, "") : (Known(line[..equals].Trim(), columns), line[(equals + 1)..].Trim());
            fault = theirs.Length == 0 ? $"'{line}': write our column, an equals sign, and what the file calls it, such as quantity = Qty."
                : !columns.All.Contains(our) ? $"There is no column {our} in a file of {columns.FileKind}."
                : named.ContainsKey(our) || always.ContainsKey(our) ? $"The column {our} is named twice."
                : "";
            if (fault.Length > 0) return false;
            if (theirs is ['"', .. var value, '"']) always.Add(our, value);
            else named.Add(our, theirs);
        }
        layout = layout with { Columns = named, Always = always };
        return true;
    }

    /// <summary>Our column however it is written; ids of currencies are in capitals.</summary>
    private static string Known(string column, CsvColumns columns) => columns.All.FirstOrDefault(c => string.Equals(c, column, StringComparison.OrdinalIgnoreCase)) ?? column.ToLowerInvariant();

    private sealed record SettingLine(string Name, Func<FileLayout, string?> Get, Func<FileLayout, string, FileLayout> Set);

    private static readonly SettingLine[] Settings =
    [
        new("dates", l => l.Dates switch { DateOrder.DayFirst => "day first", DateOrder.MonthFirst => "month first", _ => null }, (l, v) => l with { Dates = v.StartsWith("month", StringComparison.OrdinalIgnoreCase) ? DateOrder.MonthFirst : DateOrder.DayFirst }),
        new("decimals", l => l.Decimals?.ToString().ToLowerInvariant(), (l, v) => l with { Decimals = string.Equals(v, "comma", StringComparison.OrdinalIgnoreCase) ? DecimalMark.Comma : DecimalMark.Point }),
        new("times", l => l.IsInUtc ? "UTC" : null, (l, v) => l with { IsInUtc = string.Equals(v, "UTC", StringComparison.OrdinalIgnoreCase) }),
        new("line_id", l => l.NumbersLines ? Numbered : null, (l, v) => l with { NumbersLines = v == Numbered }),
        new("unit_price", l => l.PriceIsOfLine ? OfTheLine : null, (l, v) => l with { PriceIsOfLine = v == OfTheLine }),
        new("others", l => l.OthersAreNotRead ? NotRead : null, (l, v) => l with { OthersAreNotRead = v == NotRead }),
    ];

    private static SettingLine? Setting(string line) => Array.Find(Settings, s => line.StartsWith(s.Name + ":", StringComparison.OrdinalIgnoreCase));
}
