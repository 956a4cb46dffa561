using EvenSplit.Core;

namespace EvenSplit.Formats.Csv;

/// <summary>What the calculation may rely on for any order (contract, section 10): checked before one gets in.</summary>
internal static class OrderChecks
{
    public static IEnumerable<RowFault> Of(Order order, IReadOnlyList<CsvRow> rows)
    {
        Int128 left = 0;
        var lines = new HashSet<LineId>();
        for (var i = 0; i < order.Lines.Count; i++)
        {
            var line = order.Lines[i];
            RowFault Fault(string column, string expected) => new(rows[i].Line, column, rows[i][column], expected);
            if (!lines.Add(line.Id)) yield return Fault("line_id", "each line of an order once");
            var list = (Int128)line.UnitPrice * line.Quantity;
            if (list > Money.MaxMinor) yield return Fault("unit_price", "a smaller amount: price × quantity is beyond what a book can hold");
            if (line.Discount > list) yield return Fault("line_discount", "no more than price × quantity");
            if (order.PricesIncludeTax && line.Tax > list - line.Discount) yield return Fault("line_tax", "no more than the line's price after its discount: prices include tax");
            left += list - line.Discount - (order.PricesIncludeTax ? line.Tax : 0);
        }
        RowFault OrderFault(string column, string expected) => new(rows[0].Line, column, rows[0][column], expected);
        if (order.Discount > Int128.Max(left, 0)) yield return OrderFault("order_discount", "no more than what the lines come to");
        if (order.PricesIncludeTax && order.ShippingTax > order.Shipping) yield return OrderFault("shipping_tax", "no more than the shipping: prices include tax");
        if (order.Origin == order.Id) yield return OrderFault("origin_order", "another order than this one");
        if (order.PaidAt < order.PlacedAt) yield return OrderFault("paid_at", "not before placed_at");
    }
}

/// <summary>Brings rows that follow each other and name the same thing together.</summary>
internal static class RowGroups
{
    public static IEnumerable<(string Id, IReadOnlyList<CsvRow> Rows)> ByColumn(IEnumerable<CsvRow> rows, string column)
    {
        var group = new List<CsvRow>();
        foreach (var row in rows)
        {
            if (group.Count > 0 && row[column] != group[0][column])
            {
                yield return (group[0][column], group.ToArray());
                group.Clear();
            }
            group.Add(row);
        }
        if (group.Count > 0) yield return (group[0][column], group.ToArray());
    }
}
