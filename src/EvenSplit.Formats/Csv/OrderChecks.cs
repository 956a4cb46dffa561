using EvenSplit.Core;

namespace EvenSplit.Formats.Csv;

/// <summary>Words what is wrong with an order or refund in the terms of its file; an event and the form by hand have the same columns.</summary>
internal static class OrderChecks
{
    /// <param name="read">Whether every cell could be read; if not, only what is wrong with ids is told, since amounts are not what was meant.</param>
    public static IEnumerable<RowFault> Of(Order order, IReadOnlyList<CsvRow> rows, IKnownIds ids, bool read)
    {
        var found = new List<SalesFault>();
        OrderCheck.Check(order, ids, found);
        foreach (var fault in found)
        {
            if (read || (fault is { Kind: SalesFaultKind.Unknown or SalesFaultKind.Twice or SalesFaultKind.OfOther } && fault.Text.Length > 0)) yield return Worded(fault, rows);
        }
        if (!read) yield break;
        if (order.Origin == order.Id) yield return new RowFault(rows[0].Line, "origin_order", rows[0]["origin_order"], "another order than this one");
        if (order.PaidAt < order.PlacedAt) yield return new RowFault(rows[0].Line, "paid_at", rows[0]["paid_at"], "not before placed_at");
    }

    /// <summary>A fault in the terms of orders.csv and refunds.csv: its column, and what was expected there.</summary>
    public static RowFault Worded(in SalesFault fault, IReadOnlyList<CsvRow> rows)
    {
        var row = rows[Math.Max(0, Math.Min(fault.Index, rows.Count - 1))];
        var (column, expected) = (Column(fault.Field), Expected(fault));
        return new RowFault(row.Line, column, row[column], expected);
    }

    private static string Expected(in SalesFault fault) => fault.Kind switch
    {
        SalesFaultKind.Empty or SalesFaultKind.None => "a value",
        SalesFaultKind.Twice => "each line of an order once",
        SalesFaultKind.Unknown => fault.Field switch
        {
            SalesField.Product => "a product in the catalogue",
            SalesField.Variant => "a variant in the catalogue",
            SalesField.RefundLine => $"a line of order {fault.Other}",
            SalesField.RefundedOrder => "an order in the book; import its order first, then send this row again",
            _ => "the id of a payee in the book",
        },
        SalesFaultKind.OfOther => $"a variant of this product; that is one of {fault.Other}",
        SalesFaultKind.Below => fault.Field == SalesField.Quantity ? "a whole number of 1 or more" : "0 or more",
        SalesFaultKind.ListBeyond => "a smaller amount: price × quantity is beyond what a book can hold",
        SalesFaultKind.Beyond => fault.Field == SalesField.Lines ? "smaller amounts: together the lines are beyond what a book can hold" : "a smaller amount",
        _ => fault.Field switch
        {
            SalesField.ShippingTax => "no more than the shipping: prices include tax",
            SalesField.LineTax => "no more than the line's price after its discounts: prices include tax",
            SalesField.LineDiscount => "no more than price × quantity",
            _ => "no more than what the lines come to",
        },
    };

    private static string Column(SalesField field) => field switch
    {
        SalesField.Id or SalesField.RefundedOrder => "order_id",
        SalesField.Channel => "channel",
        SalesField.Processor => "processor",
        SalesField.Origin => "origin_order",
        SalesField.Discount => "order_discount",
        SalesField.Shipping or SalesField.RefundShipping => "shipping",
        SalesField.ShippingTax or SalesField.RefundShippingTax => "shipping_tax",
        SalesField.ProcessingFee => "processing_fee",
        SalesField.ChannelFee => "channel_fee",
        SalesField.Rebate => "rebate",
        SalesField.ManualPayee or SalesField.ClickPayee => "manual_payee",
        SalesField.Code => "coupon_codes",
        SalesField.LineId or SalesField.RefundLine => "line_id",
        SalesField.Product => "product",
        SalesField.Variant => "variant",
        SalesField.Quantity or SalesField.RefundQuantity => "quantity",
        SalesField.UnitPrice or SalesField.Lines => "unit_price",
        SalesField.LineDiscount => "line_discount",
        SalesField.LineTax => "line_tax",
        SalesField.PaymentNumber => "payment_number",
        SalesField.FeeReturned => "processing_fee_returned",
        SalesField.DisputeFee => "dispute_fee",
        SalesField.RefundGoods => "goods",
        _ => "tax",
    };
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
