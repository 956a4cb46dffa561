using EvenSplit.Core;

namespace EvenSplit.Formats.Scenarios;

/// <summary>Faults of refunds.</summary>
internal static class RefundDocumentChecks
{
    /// <param name="indexes">Where each order stands.</param>
    public static void Check(IReadOnlyList<RefundDocument> refunds, Order[] orders, Dictionary<OrderId, int> indexes, FaultList faults)
    {
        var seen = new HashSet<string>();
        for (var i = 0; i < refunds.Count; i++)
        {
            var refund = refunds[i];
            if (!seen.Add(refund.Id)) faults.TwiceAt($"$.refunds[{i}].id", "refund", refund.Id);
            if (!Words.TryRead<RefundKind>(refund.Kind, out _)) faults.WordAt<RefundKind>($"$.refunds[{i}].kind", refund.Kind);
            Amount(i, refund.Shipping, ".shipping");
            Amount(i, refund.ShippingTax, ".shippingTax");
            Amount(i, refund.ProcessingFeeReturned, ".processingFeeReturned");
            Amount(i, refund.DisputeFee, ".disputeFee");
            var order = indexes.TryGetValue(new OrderId(refund.Order), out var at) ? orders[at] : null;
            if (order is null) faults.UnknownAt($"$.refunds[{i}].order", "order", refund.Order);
            for (var l = 0; l < refund.Lines?.Count; l++) Line(refund.Lines[l], i, l, order);
        }

        void Line(RefundLineDocument line, int i, int l, Order? order)
        {
            if (order is not null && !HasLine(order, line.Line) && !faults.MayMiss("$.orders"))
            {
                faults.Add($"$.refunds[{i}].lines[{l}].line", $"order '{order.Id}' has no line '{line.Line}'.");
            }
            if (line.Quantity < 0) faults.Add($"$.refunds[{i}].lines[{l}].quantity", $"{line.Quantity} is below 0.");
            Amount(i, line.Goods, $".lines[{l}].goods");
            Amount(i, line.Tax, $".lines[{l}].tax");
        }

        void Amount(int i, long? minor, string field)
        {
            if (minor is { } value && !ValueFaults.IsMoney(value)) faults.Add($"$.refunds[{i}]{field}", ValueFaults.Amount(value));
        }
    }

    private static bool HasLine(Order order, string id)
    {
        for (var i = 0; i < order.Lines.Count; i++)
        {
            if (order.Lines[i].Id.Value == id) return true;
        }
        return false;
    }
}
