using EvenSplit.Core;

namespace EvenSplit.Formats.Csv;

/// <summary>What a partner says a payee has earned; minor units of <see cref="Currency"/>.</summary>
/// <param name="Order">Empty where the line is of a span of days.</param>
/// <param name="Invoice">Empty in a report.</param>
public sealed record OutsideRow(string Report, string LineId, PayeeId Payee, string Order, DateOnly From, DateOnly To, Currency Currency, long Amount, string Note, string Invoice, DateOnly? IssuedOn, DateOnly? DueOn);

/// <summary>outside.csv: a partner's report or invoice, a line each (reconcile contract, section 4).</summary>
public static class OutsideCsv
{
    public static CsvColumns Columns { get; } = new("partners", ["report", "line_id", "payee", "to", "amount", "currency"], ["order_id", "from", "note", "invoice", "issued_on", "due_on"]);

    /// <summary>Reads line by line.</summary>
    public static IEnumerable<RowGroup<OutsideRow>> Read(IEnumerable<CsvRow> rows, Rulebook rules) => rows.Select(r => Read(r, rules));

    private static RowGroup<OutsideRow> Read(CsvRow row, Rulebook rules)
    {
        var cells = new CellReader(row, rules.Policy.Time);
        var (report, line) = (cells.Required("report"), cells.Required("line_id"));
        var payee = new PayeeId(cells.Required("payee"));
        if (payee.Value.Length > 0 && rules.FindPayee(payee) is null) cells.Refuse("payee", "a payee of the book");
        var to = cells.Date("to");
        var from = row["from"].Length > 0 ? cells.Date("from") : to;
        if (row["from"].Length == 0 && row["order_id"].Length == 0) cells.Refuse("from", "the first day it is about, or an order_id");
        if (from > to) cells.Refuse("to", "a day that is not before from");
        var currency = cells.Currency("currency");
        cells.Required("amount");
        var amount = cells.SignedAmount("amount", currency);
        var (issued, due) = (Day("issued_on"), Day("due_on"));
        if (row["invoice"].Length == 0 && due is not null) cells.Refuse("invoice", "the number of the invoice that is due");
        return new RowGroup<OutsideRow>(
            $"{report} {line}", [row], cells.Faults.Count == 0 ? new OutsideRow(report, line, payee, row["order_id"], from, to, currency, amount, row["note"], row["invoice"], issued, due) : null, cells.Faults);

        DateOnly? Day(string column) => row[column].Length > 0 ? cells.Date(column) : null;
    }
}
