using EvenSplit.Core;

namespace EvenSplit.Formats.Csv;

/// <summary>refunds.csv: a row is a refunded line, or the refund's shipping; rows of one refund follow each other.</summary>
public static class RefundsCsv
{
    private static readonly string[] OrderLevel = ["order_id", "at", "kind"];

    public static CsvColumns Columns { get; } = RefundColumns.All.OfFile("refunds") with { OfWhole = OrderLevel };

    /// <summary>Reads refund by refund. <paramref name="order"/> finds what the refund is of; null where the book has no such order.</summary>
    public static IEnumerable<RowGroup<Refund>> Read(IEnumerable<CsvRow> rows, BookTime time, Func<OrderId, Order?> order) =>
        RowGroups.ByColumn(rows, "refund_id").Select(g => ReadRefund(g.Id, g.Rows, time, order));

    private static RowGroup<Refund> ReadRefund(string id, IReadOnlyList<CsvRow> rows, BookTime time, Func<OrderId, Order?> find)
    {
        var faults = new List<RowFault>();
        var first = new CellReader(rows[0], time);
        if (id.Length == 0) first.Refuse("refund_id", "the shop's id of the refund");
        var orderId = new OrderId(first.Required("order_id"));
        var order = find(orderId);
        // Without its order a refund's amounts have no currency to be read in.
        if (orderId.Value.Length > 0 && order is null) first.Wait("order_id", orderId, "an order in the book; import its order first, then send this row again");
        var at = first.Instant("at");
        var kind = Kind(first);
        var currency = order?.Currency ?? default;
        var sums = new long[4];
        var lines = new List<RefundLine>();
        var lineRows = new List<CsvRow>();
        for (var i = 0; i < rows.Count; i++)
        {
            var row = rows[i];
            var cells = i == 0 ? first : new CellReader(row, time);
            foreach (var column in OrderLevel)
            {
                if (row[column] != rows[0][column]) cells.Refuse(column, $"'{rows[0][column]}' as in row {rows[0].Line}: it is the same refund");
            }
            AddUp(ref sums[0], cells.Amount("shipping", currency));
            AddUp(ref sums[1], cells.Amount("shipping_tax", currency));
            AddUp(ref sums[2], cells.Amount("processing_fee_returned", currency));
            AddUp(ref sums[3], cells.Amount("dispute_fee", currency));
            if (cells.Optional("line_id") is { } line)
            {
                lines.Add(ReadLine(cells, row, new LineId(line), currency));
                lineRows.Add(row);
            }
            else if (row["goods"].Length + row["tax"].Length + row["quantity"].Length > 0) cells.Refuse("line_id", "the line that was refunded");
            faults.AddRange(cells.Faults);
        }
        var refund = new Refund
        {
            Id = new RefundId(id),
            Order = orderId,
            At = at,
            Kind = kind,
            Shipping = sums[0],
            ShippingTax = sums[1],
            ProcessingFeeReturned = sums[2],
            DisputeFee = sums[3],
            Lines = lines,
        };
        if (faults.Count == 0)
        {
            var found = new List<SalesFault>();
            RefundCheck.Check(refund, order, found);
            faults.AddRange(found.Select(f => OrderChecks.Worded(f, f.Index < 0 ? rows : lineRows)));
        }
        return new RowGroup<Refund>(id, rows, faults.Count == 0 ? refund : null, faults);
    }

    /// <summary>As far as it goes: what is beyond the largest amount is found by the check.</summary>
    private static void AddUp(ref long sum, long amount) => sum = Math.Min(sum + amount, Money.MaxMinor + 1);

    private static RefundLine ReadLine(CellReader cells, CsvRow row, LineId id, Currency currency)
    {
        var quantity = row["quantity"].Length == 0 ? 0 : cells.Count("quantity", 0, "a whole number of 0 or more");
        return new RefundLine(id, quantity, cells.Amount("goods", currency), cells.Amount("tax", currency));
    }

    private static RefundKind Kind(CellReader cells)
    {
        switch (cells.Required("kind").ToLowerInvariant())
        {
            case "refund": return RefundKind.Refund;
            case "chargeback": return RefundKind.Chargeback;
            case "cancel": return RefundKind.Cancel;
            default:
                cells.Refuse("kind", "refund, chargeback or cancel");
                return RefundKind.Refund;
        }
    }
}
