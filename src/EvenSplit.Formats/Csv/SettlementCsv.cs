using EvenSplit.Core;

namespace EvenSplit.Formats.Csv;

/// <summary>A line of a processor's settlement as its file has it; minor units of <see cref="Currency"/>, net = gross − fee.</summary>
public sealed record SettlementRow(string Settlement, DateOnly On, MovementKind Kind, string Order, string Reference, string RefundId, Currency Currency, long Gross, long Fee);

/// <summary>settlement.csv: what a processor has settled, a line each (reconcile contract, section 1).</summary>
public static class SettlementCsv
{
    public static CsvColumns Columns { get; } = new("settlements", ["settlement_id", "settled_on", "type", "currency", "net"], ["order_id", "reference", "refund_id", "gross", "fee"]);

    /// <summary>Reads line by line; a line without a reference is known by its row.</summary>
    public static IEnumerable<RowGroup<SettlementRow>> Read(IEnumerable<CsvRow> rows, BookTime time) => rows.Select(r => Read(r, time));

    private static RowGroup<SettlementRow> Read(CsvRow row, BookTime time)
    {
        var cells = new CellReader(row, time);
        var settlement = cells.Required("settlement_id");
        var on = cells.Date("settled_on");
        if (!Enum.TryParse<MovementKind>(row["type"], ignoreCase: true, out var kind) || !Enum.IsDefined(kind) || char.IsAsciiDigit(row["type"][0])) cells.Refuse("type", "sale, refund, chargeback, fee or payout");
        var currency = cells.Currency("currency");
        var (gross, fee, net) = (cells.SignedAmount("gross", currency), cells.SignedAmount("fee", currency), cells.SignedAmount("net", currency));
        // A fee or a payout has no gross; where the column is empty, the other two say it.
        var charged = row["gross"].Length > 0 ? gross : kind is MovementKind.Fee ? 0 : net + fee;
        var taken = row["fee"].Length > 0 ? fee : charged - net;
        if (row["net"].Length == 0) cells.Refuse("net", "what is left of the gross after the fee");
        else if (charged - taken != net) cells.Refuse("net", "the gross less the fee");
        var reference = row["reference"] is { Length: > 0 } given ? given : string.Create(System.Globalization.CultureInfo.InvariantCulture, $"{row.Line}");
        return new RowGroup<SettlementRow>(
            $"{settlement} {reference}", [row], cells.Faults.Count == 0 ? new SettlementRow(settlement, on, kind, row["order_id"], reference, row["refund_id"], currency, charged, taken) : null, cells.Faults);
    }
}
