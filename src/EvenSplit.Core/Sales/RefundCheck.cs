namespace EvenSplit.Core;

/// <summary>What the calculation may rely on for any refund (contract, section 10).</summary>
public static class RefundCheck
{
    /// <param name="order">What is refunded; null where there is no such order.</param>
    public static void Check(Refund refund, Order? order, List<SalesFault> faults)
    {
        OrderCheck.NotEmpty(faults, SalesField.Id, refund.Id.Value);
        if (order is null) faults.Add(new SalesFault(SalesField.RefundedOrder, SalesFaultKind.Unknown, Text: refund.Order.Value));
        OrderCheck.Amount(faults, SalesField.RefundShipping, refund.Shipping);
        OrderCheck.Amount(faults, SalesField.RefundShippingTax, refund.ShippingTax);
        OrderCheck.Amount(faults, SalesField.FeeReturned, refund.ProcessingFeeReturned);
        OrderCheck.Amount(faults, SalesField.DisputeFee, refund.DisputeFee);
        for (var i = 0; i < refund.Lines.Count; i++)
        {
            var line = refund.Lines[i];
            if (order is not null && !HasLine(order, line.Line)) faults.Add(new SalesFault(SalesField.RefundLine, SalesFaultKind.Unknown, i, Text: line.Line.Value, Other: order.Id.Value));
            if (line.Quantity < 0) faults.Add(new SalesFault(SalesField.RefundQuantity, SalesFaultKind.Below, i, line.Quantity, 0));
            OrderCheck.Amount(faults, SalesField.RefundGoods, line.Goods, i);
            OrderCheck.Amount(faults, SalesField.RefundTax, line.Tax, i);
        }
    }

    /// <summary>Lines that refunds name and an order, corrected, has no more.</summary>
    public static IEnumerable<(RefundId Refund, LineId Line)> LinesMissing(Order corrected, IEnumerable<Refund> refunds) => refunds
        .SelectMany(r => r.Lines.Select(l => (r.Id, l.Line))).Where(l => !HasLine(corrected, l.Line));

    private static bool HasLine(Order order, LineId id)
    {
        for (var i = 0; i < order.Lines.Count; i++)
        {
            if (order.Lines[i].Id == id) return true;
        }
        return false;
    }
}
