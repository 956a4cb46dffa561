using System.Globalization;
using EvenSplit.Formats.Csv;

namespace EvenSplit.Books.Importing;

/// <summary>What a form says otherwise of an order than the book, in words.</summary>
internal static class HandChanges
{
    private static readonly HashSet<string> OfLines = [.. OrderColumns.All.OfLines()];

    /// <param name="held">The order as it is, cell by cell.</param>
    /// <param name="typed">One row a line, each with the cells of the whole order.</param>
    public static IReadOnlyList<string> Between((Dictionary<string, string> Cells, IReadOnlyList<Dictionary<string, string>> Lines) held, IReadOnlyList<IReadOnlyDictionary<string, string>> typed)
    {
        var changes = new List<string>();
        Compare("", held.Cells, typed[0].Where(c => !OfLines.Contains(c.Key)).ToDictionary(), changes);
        var lines = held.Lines.ToDictionary(l => l["line_id"]);
        foreach (var row in typed)
        {
            var line = row.Where(c => OfLines.Contains(c.Key)).ToDictionary();
            if (lines.Remove(line["line_id"], out var was)) Compare($"line {line["line_id"]}, ", was, line, changes);
            else changes.Add($"line {line["line_id"]} is new: {string.Join(", ", line.Where(c => c.Key != "line_id").Select(c => $"{Words(c.Key)} {c.Value}"))}");
        }
        changes.AddRange(lines.Keys.Select(gone => $"line {gone} is gone"));
        return changes;
    }

    private static void Compare(string of, Dictionary<string, string> was, Dictionary<string, string> now, List<string> changes)
    {
        foreach (var column in was.Keys.Union(now.Keys))
        {
            var (before, after) = (was.GetValueOrDefault(column) ?? "", now.GetValueOrDefault(column) ?? "");
            if (!Same(before, after)) changes.Add($"{of}{Words(column)}: from {(before.Length > 0 ? before : "nothing")} to {(after.Length > 0 ? after : "nothing")}");
        }
    }

    /// <summary>A browser leaves out seconds that are none, and somebody may type 2.0 for 2.00; what is left empty is none, or no.</summary>
    private static bool Same(string before, string after) => Plain(before) == Plain(after);

    private static string Plain(string text) => decimal.TryParse(text, NumberStyles.Number, CultureInfo.InvariantCulture, out var number) ? (number == 0 ? "" : number.ToString("G29", CultureInfo.InvariantCulture))
        : text == "no" ? "" : text.Length == 19 && text.EndsWith(":00", StringComparison.Ordinal) ? text[..16] : text;

    private static string Words(string column) => column.Replace('_', ' ');
}
