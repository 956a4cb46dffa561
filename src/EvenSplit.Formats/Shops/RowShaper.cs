using System.Globalization;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;

namespace EvenSplit.Formats.Shops;

/// <summary>Turns the rows of a shop's file into rows as ours are, one after the other.</summary>
internal sealed class RowShaper(FileLayout layout, CsvColumns columns)
{
    private readonly string _group = columns.Required[0];
    private readonly ColumnMeaning[] _meanings = [.. ColumnMeaning.Of(columns)];

    /// <summary>As the file has it.</summary>
    private Dictionary<string, string> _first = [];
    private int _number;

    public CsvRow Shape(CsvRow row)
    {
        if (row.Damage is not null) return row;
        var cells = new Dictionary<string, string>(row.Cells);
        foreach (var (column, value) in layout.Always) cells[column] = value;
        CarryOn(cells);
        // What the next rows of the same order leave out stands in its first.
        if (_number == 1) _first = new(cells);
        var misread = new Dictionary<string, string>();
        foreach (var meaning in _meanings)
        {
            if (!cells.TryGetValue(meaning.Column, out var cell)) continue;
            if (Ours(cell, meaning) is { } ours) cells[meaning.Column] = ours;
            else misread[meaning.Column] = Expected(meaning);
        }
        if (layout.PriceIsOfLine && misread.Count == 0) PriceEach(cells);
        return row with { Cells = cells, Misread = misread };
    }

    /// <summary>A row that leaves out what the whole order says, or even which order it is of, is of the one before.</summary>
    private void CarryOn(Dictionary<string, string> cells)
    {
        var isNext = _first.TryGetValue(_group, out var held) && (!cells.TryGetValue(_group, out var group) || group == held);
        if (isNext && columns.OfWhole.Count > 0)
        {
            _number++;
            foreach (var column in columns.OfWhole.Prepend(_group))
            {
                if (_first.TryGetValue(column, out var cell)) cells.TryAdd(column, cell);
            }
        }
        else _number = 1;
        if (layout.NumbersLines) cells["line_id"] = _number.ToString(CultureInfo.InvariantCulture);
    }

    private string? Ours(string cell, ColumnMeaning meaning) => meaning.Kind switch
    {
        CellKind.Amount or CellKind.TakenOff when layout.Decimals is { } mark => ShopCells.Amount(cell, mark, meaning.Kind == CellKind.TakenOff),
        CellKind.Instant => ShopCells.Instant(cell, layout.Dates, layout.IsInUtc) ?? (layout.Dates is null ? cell : null),
        CellKind.Date => ShopCells.Date(cell, layout.Dates) ?? (layout.Dates is null ? cell : null),
        CellKind.Count => ShopCells.Count(cell),
        CellKind.Currency => ShopCells.Currency(cell),
        CellKind.YesNo => ShopCells.YesNo(cell),
        CellKind.List => ShopCells.List(cell),
        _ => cell,
    };

    private string Expected(ColumnMeaning meaning) => meaning.Kind switch
    {
        CellKind.Amount or CellKind.TakenOff => layout.Decimals == DecimalMark.Comma ? "an amount with a decimal comma, such as 12,50" : "an amount with a decimal point, such as 12.50",
        _ => layout.Dates == DateOrder.MonthFirst ? "a date with the month first, such as 10/31/2026" : "a date with the day first, such as 31.10.2026",
    };

    /// <summary>The price of one unit, rounded up to the currency's smallest coin; what that is too much is a discount on the line, so that the line charges what the file says.</summary>
    private static void PriceEach(Dictionary<string, string> cells)
    {
        if (!Currency.TryOf(cells.GetValueOrDefault("currency", ""), out var currency) || !Money.TryParseMajor(cells.GetValueOrDefault("unit_price", ""), currency, out var whole, out _)) return;
        if (!long.TryParse(cells.GetValueOrDefault("quantity", ""), NumberStyles.None, CultureInfo.InvariantCulture, out var quantity) || quantity < 1) return;
        var each = new Money((whole.Minor + quantity - 1) / quantity, currency);
        var over = each.Minor * quantity - whole.Minor;
        cells["unit_price"] = each.ToMajorText();
        if (over == 0) return;
        var known = Money.TryParseMajor(cells.GetValueOrDefault("line_discount", "0"), currency, out var discount, out _) ? discount.Minor : 0;
        cells["line_discount"] = new Money(known + over, currency).ToMajorText();
    }
}
