using System.Globalization;
using CsvHelper;
using CsvHelper.Configuration;

namespace EvenSplit.Formats.Csv;

/// <summary>Writes a table for spreadsheets. A cell that one would run as a formula is written as text.</summary>
public static class CsvOutput
{
    public static void Write(TextWriter output, IReadOnlyList<string> header, IEnumerable<IReadOnlyList<string>> rows)
    {
        // Amounts may start with a minus; only text that is no number is defused.
        var configuration = new CsvConfiguration(CultureInfo.InvariantCulture);
        using var csv = new CsvWriter(output, configuration, leaveOpen: true);
        foreach (var row in rows.Prepend(header))
        {
            foreach (var cell in row) csv.WriteField(Defused(cell));
            csv.NextRecord();
        }
    }

    private static string Defused(string cell) =>
        cell.Length > 0 && "=+-@\t\r".Contains(cell[0]) && !decimal.TryParse(cell, NumberStyles.Number, CultureInfo.InvariantCulture, out _)
            ? "'" + cell
            : cell;
}
