using EvenSplit.Core;

namespace EvenSplit.Formats.Csv;

/// <summary>Who is said by hand to have brought an order.</summary>
/// <param name="Payee">Null takes an earlier assignment back.</param>
/// <param name="Note">Why; it stands in the log.</param>
public sealed record Assignment(string OrderId, PayeeId? Payee, string Note)
{
    /// <summary>The line of the file it stands in; 0 where it comes from none.</summary>
    public long Row { get; init; }
}

/// <summary>assignments.csv: a row is an order, the payee it is assigned to (none takes an assignment back), and why.</summary>
public static class AssignmentsCsv
{
    public static CsvColumns Columns { get; } = new("assignments", ["order_id", "payee", "note"], []);

    public static (IReadOnlyList<Assignment> Assignments, IReadOnlyList<RowFault> Faults) Read(IEnumerable<CsvRow> rows, Rulebook rules)
    {
        var (read, faults, seen) = (new List<Assignment>(), new List<RowFault>(), new HashSet<string>());
        foreach (var row in rows)
        {
            var cells = new CellReader(row, rules.Policy.Time);
            var order = cells.Required("order_id");
            if (order.Length > 0 && !seen.Add(order)) cells.Refuse("order_id", "each order once");
            PayeeId? payee = row["payee"].Length == 0 ? null : new PayeeId(row["payee"]);
            if (payee is { } id && rules.FindPayee(id) is null) cells.Refuse("payee", "the id of a payee in the book, or nothing to take an assignment back");
            read.Add(new Assignment(order, payee, cells.Required("note")) { Row = row.Line });
            faults.AddRange(cells.Faults);
        }
        return (faults.Count == 0 ? read : [], faults);
    }
}
