using EvenSplit.Core;

namespace EvenSplit.Formats.Csv;

/// <summary>A line of a bank's statement; the amount with its sign, minor units: what left the account is below 0.</summary>
/// <param name="Account">The account's number, without spaces.</param>
/// <param name="BalanceAfter">Null where the bank does not say.</param>
public sealed record StatementRow(string Account, string Id, DateOnly On, Currency Currency, long Amount, string Reference, string Name, string Note, long? BalanceAfter)
{
    /// <summary>Whether the bank calls it a return of a payment.</summary>
    public bool IsReturn { get; init; }

    public static string Number(string account) => account.Replace(" ", "", StringComparison.Ordinal).ToUpperInvariant();
}

/// <summary>statement.csv: a bank's statement, a line each (reconcile contract, section 1).</summary>
public static class StatementCsv
{
    public static CsvColumns Columns { get; } = new("statements", ["account", "booked_on", "amount", "currency"], ["id", "reference", "name", "note", "balance_after"]);

    /// <summary>Reads line by line; a line without an id is known by its day and row.</summary>
    public static IEnumerable<RowGroup<StatementRow>> Read(IEnumerable<CsvRow> rows, BookTime time) => rows.Select(r => Read(r, time));

    private static RowGroup<StatementRow> Read(CsvRow row, BookTime time)
    {
        var cells = new CellReader(row, time);
        var account = StatementRow.Number(cells.Required("account"));
        var on = cells.Date("booked_on");
        var currency = cells.Currency("currency");
        cells.Required("amount");
        var amount = cells.SignedAmount("amount", currency);
        long? balance = row["balance_after"].Length > 0 ? cells.SignedAmount("balance_after", currency) : null;
        var id = row["id"] is { Length: > 0 } given ? given : string.Create(System.Globalization.CultureInfo.InvariantCulture, $"{on:yyyy-MM-dd} row {row.Line}");
        return new RowGroup<StatementRow>($"{account} {id}", [row], cells.Faults.Count == 0 ? new StatementRow(account, id, on, currency, amount, row["reference"], row["name"], row["note"], balance) : null, cells.Faults);
    }
}
