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
        var (seen, found) = (new HashSet<string>(), new List<SalesFault>());
        for (var i = 0; i < refunds.Length; i++)
        {
            var refund = refunds[i];
            if (!seen.Add(refund.Id.Value)) faults.TwiceAt($"$.refunds[{i}].id", "refund", refund.Id.Value);
            if (documents is not null) faults.WordAt<RefundKind>($"$.refunds[{i}].kind", documents[i].Kind);
            var order = indexes.TryGetValue(refund.Order.Value, out var at) ? orders[at] : null;
            found.Clear();
            RefundCheck.Check(refund, order, found);
            foreach (var fault in found) faults.SaleAt($"$.refunds[{i}]", fault);
        }
    }
}
