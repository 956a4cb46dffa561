using EvenSplit.Core;

namespace EvenSplit.Formats.Scenarios;

/// <summary>Faults of refunds.</summary>
internal static class RefundChecks
{
    /// <param name="indexes">Where each order stands.</param>
    /// <param name="documents">As for <see cref="OrderChecks.Check"/>.</param>
    public static void Check(
        Refund[] refunds, Order[] orders, Dictionary<string, int> indexes, IReadOnlyList<RefundDocument>? documents, FaultList faults)
    {
        var seen = new HashSet<string>();
        for (var i = 0; i < refunds.Length; i++)
        {
            var refund = refunds[i];
            if (!seen.Add(refund.Id.Value)) faults.TwiceAt($"$.refunds[{i}].id", "refund", refund.Id.Value);
            if (documents is not null) faults.WordAt<RefundKind>($"$.refunds[{i}].kind", documents[i].Kind);
            Amount(i, refund.Shipping, ".shipping");
            Amount(i, refund.ShippingTax, ".shippingTax");
            Amount(i, refund.ProcessingFeeReturned, ".processingFeeReturned");
            Amount(i, refund.DisputeFee, ".disputeFee");
            var order = indexes.TryGetValue(refund.Order.Value, out var at) ? orders[at] : null;
            if (order is null) faults.UnknownAt($"$.refunds[{i}].order", "order", refund.Order.Value);
            for (var l = 0; l < refund.Lines.Count; l++) Line(refund.Lines[l], i, l, order);
        }

        void Line(RefundLine line, int i, int l, Order? order)
        {
            if (order is not null && !HasLine(order, line.Line) && !faults.MayMiss("$.orders"))
            {
                faults.Add($"$.refunds[{i}].lines[{l}].line", $"order '{order.Id}' has no line '{line.Line}'.");
            }
            if (line.Quantity < 0) faults.Add($"$.refunds[{i}].lines[{l}].quantity", $"{line.Quantity} is below 0.");
            Amount(i, line.Goods, $".lines[{l}].goods");
            Amount(i, line.Tax, $".lines[{l}].tax");
        }

        void Amount(int i, long minor, string field)
        {
            if (!ValueFaults.IsMoney(minor)) faults.Add($"$.refunds[{i}]{field}", ValueFaults.Amount(minor));
        }
    }

    private static bool HasLine(Order order, LineId id)
    {
        for (var i = 0; i < order.Lines.Count; i++)
        {
            if (order.Lines[i].Id == id) return true;
        }
        return false;
    }
}
