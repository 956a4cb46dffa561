using EvenSplit.Core;

namespace EvenSplit.Formats.Csv;

/// <summary>A click on a payee's link.</summary>
/// <param name="Visitor">What the shop knows the visitor by; empty where the click names its order.</param>
/// <param name="Order">The order it led to; empty where the click names its visitor.</param>
/// <param name="Page">The page it led to.</param>
/// <param name="Source">The page it was on.</param>
public sealed record LoggedClick(PayeeId Payee, DateTimeOffset At, string Visitor, string Order, string Page, string Source);

/// <summary>clicks.csv: a row is a click; it names the order it led to, or the visitor whose orders it may lead to.</summary>
public static class ClicksCsv
{
    public static CsvColumns Columns { get; } = new("clicks", ["payee", "at"], ["order_id", "visitor", "page", "source"]);

    public static IEnumerable<RowGroup<LoggedClick>> Read(IEnumerable<CsvRow> rows, Rulebook rules) => rows.Select(row =>
    {
        var cells = new CellReader(row, rules.Policy.Time);
        var payee = new PayeeId(cells.Required("payee"));
        if (payee.Value.Length > 0 && rules.FindPayee(payee) is null) cells.Refuse("payee", "the id of a payee in the book");
        if (row["order_id"].Length == 0 && row["visitor"].Length == 0) cells.Refuse("visitor", "the visitor, or the order in order_id");
        var click = new LoggedClick(payee, cells.Instant("at"), row["visitor"], row["order_id"], row["page"], row["source"]);
        return new RowGroup<LoggedClick>($"{payee}/{row["at"]}", [row], cells.Faults.Count == 0 ? click : null, [.. cells.Faults]);
    });
}
