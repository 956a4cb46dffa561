using System.Globalization;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Mvc;
using MiniExcelLibs;

namespace EvenSplit.Web.Pages;

/// <summary>A table as a browser shows it: its heads, and its rows with amounts as 1234.50 and days as 2026-10-31.</summary>
/// <param name="Kinds">Of each column: n for numbers, d for days, anything else for text.</param>
public sealed record ShownTable(string Name, IReadOnlyList<string> Heads, IReadOnlyList<string> Kinds, IReadOnlyList<IReadOnlyList<string>> Rows);

/// <summary>Makes a workbook of a table that is shown: just what is shown, numbers as numbers, dates as dates.</summary>
[RequestSizeLimit(8 * 1024 * 1024)]
public sealed class TablePage : BookPage
{
    private const int MostRows = 50_000;
    private const int MostColumns = 60;

    public IActionResult OnGet() => NotFound();

    [WriteBy(Policies.Anyone)]
    public IActionResult OnPost([FromBody] ShownTable? table)
    {
        if (table is null || table.Heads.Count is 0 or > MostColumns || table.Rows.Count > MostRows || table.Kinds.Count != table.Heads.Count || table.Rows.Any(r => r.Count > table.Heads.Count)) return BadRequest();
        using var file = new MemoryStream();
        file.SaveAs(table.Rows.Select(row => Cells(table, row)), sheetName: "Table");
        return File(file.ToArray(), "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", $"{table.Name}.xlsx");
    }

    private static Dictionary<string, object?> Cells(ShownTable table, IReadOnlyList<string> row)
    {
        var cells = new Dictionary<string, object?>();
        for (var i = 0; i < table.Heads.Count; i++)
        {
            // A workbook tells columns apart by their heads.
            var head = table.Heads[i];
            while (cells.ContainsKey(head)) head += " ";
            cells[head] = i < row.Count ? Value(row[i], table.Kinds[i]) : null;
        }
        return cells;
    }

    private static object? Value(string cell, string kind) => kind switch
    {
        _ when cell.Length == 0 => null,
        "n" when decimal.TryParse(cell, NumberStyles.AllowLeadingSign | NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out var number) => number,
        "d" when DateTime.TryParseExact(cell, "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var day) => day,
        _ => cell,
    };
}
