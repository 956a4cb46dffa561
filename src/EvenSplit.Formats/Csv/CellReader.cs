using System.Globalization;
using EvenSplit.Core;

namespace EvenSplit.Formats.Csv;

/// <summary>Reads the cells of one row into values; what cannot be read becomes a fault at its cell, one a cell.</summary>
internal sealed class CellReader(CsvRow row, BookTime time)
{
    private static readonly string[] LocalInstants = ["yyyy-MM-dd HH:mm", "yyyy-MM-dd HH:mm:ss", "yyyy-MM-ddTHH:mm", "yyyy-MM-ddTHH:mm:ss"];

    private readonly List<RowFault> _faults = row.Damage is { } damage
        ? [new RowFault(row.Line, "", "", damage)]
        : [.. row.Misread.Select(m => new RowFault(row.Line, m.Key, row[m.Key], m.Value))];

    public IReadOnlyList<RowFault> Faults => _faults;

    public void Refuse(string column, string expected)
    {
        // A row that is damaged as a whole says nothing reliable about its cells.
        if (row.Damage is null && _faults.All(f => f.Column != column)) _faults.Add(new RowFault(row.Line, column, row[column], expected));
    }

    /// <summary>A fault that is none any more once an order has come.</summary>
    public void Wait(string column, OrderId order, string expected)
    {
        if (row.Damage is null) _faults.Add(new RowFault(row.Line, column, row[column], expected) { WaitsFor = order });
    }

    public string Required(string column)
    {
        if (row[column].Length == 0) Refuse(column, "a value");
        return row[column];
    }

    public string? Optional(string column) => row[column] is { Length: > 0 } text ? text : null;

    public DateOnly Date(string column)
    {
        if (DateOnly.TryParseExact(row[column], "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var date)) return date;
        Refuse(column, "a date such as 2026-10-31");
        return default;
    }

    public Currency Currency(string column)
    {
        if (!Core.Currency.TryOf(row[column].ToUpperInvariant(), out var currency)) Refuse(column, "a currency code, such as EUR");
        return currency;
    }

    /// <summary>Minor units; null where the cell is empty.</summary>
    public long? OptionalAmount(string column, Currency currency)
    {
        if (row[column].Length == 0 || currency.Code is null) return null;
        if (!Money.TryParseMajor(row[column], currency, out var money, out var expected)) Refuse(column, expected!);
        else if (money.Minor < 0) Refuse(column, "an amount of 0 or more");
        return money.Minor;
    }

    /// <summary>Minor units, of either sign; 0 where the cell is empty.</summary>
    public long SignedAmount(string column, Currency currency)
    {
        if (row[column].Length == 0 || currency.Code is null) return 0;
        if (!Money.TryParseMajor(row[column], currency, out var money, out var expected)) Refuse(column, expected!);
        return money.Minor;
    }

    public long Amount(string column, Currency currency) => OptionalAmount(column, currency) ?? 0;

    public long Count(string column, long least, string expected)
    {
        const long most = 10_000_000;
        if (long.TryParse(row[column], NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var count) && count >= least && count <= most) return count;
        Refuse(column, expected);
        return least;
    }

    public bool YesNo(string column)
    {
        switch (row[column].ToLowerInvariant())
        {
            case "yes" or "true" or "1" or "y": return true;
            case "" or "no" or "false" or "0" or "n": return false;
            default:
                Refuse(column, "yes or no");
                return false;
        }
    }

    /// <summary>ISO 8601 with an offset; without one the time is taken in the book's zone.</summary>
    public DateTimeOffset? OptionalInstant(string column)
    {
        var text = row[column];
        if (text.Length == 0) return null;
        if (DateTime.TryParseExact(text, LocalInstants, CultureInfo.InvariantCulture, DateTimeStyles.None, out var local))
        {
            var there = new DateTimeOffset(local, time.Zone.GetUtcOffset(local)).ToUniversalTime();
            // There and back: a time the clocks skipped does not come back as itself.
            if (TimeZoneInfo.ConvertTime(there, time.Zone).DateTime == local) return there;
            Refuse(column, $"a time that exists in {time.Zone.Id}: the clocks went forward over this one");
            return null;
        }
        if (text.Length > 10 && DateTimeOffset.TryParse(text, CultureInfo.InvariantCulture, DateTimeStyles.None, out var instant)) return instant.ToUniversalTime();
        Refuse(column, "a date and time such as 2026-10-03T14:05:00+01:00, or 2026-10-03 14:05 in the book's zone");
        return null;
    }

    public DateTimeOffset Instant(string column)
    {
        if (row[column].Length == 0) Refuse(column, "a date and time such as 2026-10-03T14:05:00+01:00");
        return OptionalInstant(column) ?? default;
    }
}
