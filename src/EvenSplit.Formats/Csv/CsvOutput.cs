using System.Globalization;
using CsvHelper;
using CsvHelper.Configuration;

namespace EvenSplit.Formats.Csv;

/// <summary>Writes tables: for spreadsheets, where a cell that one would run as a formula is written as text, or exact, for machines.</summary>
public static class CsvOutput
{
    public static void Write(TextWriter output, IReadOnlyList<string> header, IEnumerable<IReadOnlyList<string>> rows) => Write(output, header, rows, Defused);

    /// <summary>Each cell just as it is: for a file that pays, a quote before a telephone number would be another recipient.</summary>
    public static void WriteExact(TextWriter output, IReadOnlyList<string> header, IEnumerable<IReadOnlyList<string>> rows) => Write(output, header, rows, cell => cell);

    private static void Write(TextWriter output, IReadOnlyList<string> header, IEnumerable<IReadOnlyList<string>> rows, Func<string, string> written)
    {
        var configuration = new CsvConfiguration(CultureInfo.InvariantCulture);
        using var csv = new CsvWriter(output, configuration, leaveOpen: true);
        foreach (var row in rows.Prepend(header))
        {
            foreach (var cell in row) csv.WriteField(written(cell));
            csv.NextRecord();
        }
    }

    /// <summary>Amounts may start with a minus; only text that is no number is defused.</summary>
    private static string Defused(string cell) =>
        cell.Length > 0 && "=+-@\t\r".Contains(cell[0]) && !decimal.TryParse(cell, NumberStyles.Number, CultureInfo.InvariantCulture, out _)
            ? "'" + cell
            : cell;
}
