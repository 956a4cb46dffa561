namespace EvenSplit.Core;

/// <summary>Payments and refunds in the order in which they count (contract, section 4).</summary>
public static class BookEvents
{
    /// <summary>One event, comparable by instant, a payment before a refund at the same instant, then id.</summary>
    public readonly record struct Moment(long UtcTicks, bool IsRefund, string Id) : IComparable<Moment>
    {
        public static Moment Of(Order order) => new(order.PaidAt!.Value.UtcTicks, false, order.Id.Value);

        public static Moment Of(Refund refund, Order order) => new(refund.TakesEffectAt(order.PaidAt!.Value).UtcTicks, true, refund.Id.Value);

        public int CompareTo(Moment other)
        {
            var byInstant = UtcTicks.CompareTo(other.UtcTicks);
            if (byInstant != 0) return byInstant;
            return IsRefund == other.IsRefund ? IdOrder.Compare(Id, other.Id) : IsRefund ? 1 : -1;
        }
    }

    /// <summary>Tests and unpaid orders, and what is refunded of them, are no events.</summary>
    internal static (int OrderIndex, Refund? Refund, DateTimeOffset At)[] InOrder(Facts facts, Dictionary<OrderId, int> indexes)
    {
        var moments = new List<Moment>(facts.Orders.Count + facts.Refunds.Count);
        var events = new List<(int OrderIndex, Refund? Refund, DateTimeOffset At)>(moments.Capacity);
        for (var i = 0; i < facts.Orders.Count; i++)
        {
            var order = facts.Orders[i];
            if (order.IsTest || order.PaidAt is not { } paidAt) continue;
            moments.Add(Moment.Of(order));
            events.Add((i, null, paidAt));
        }
        foreach (var refund in facts.Refunds)
        {
            var index = indexes[refund.Order];
            var order = facts.Orders[index];
            if (order.IsTest || order.PaidAt is not { } paidAt) continue;
            moments.Add(Moment.Of(refund, order));
            events.Add((index, refund, refund.TakesEffectAt(paidAt)));
        }
        var sorted = events.ToArray();
        Array.Sort(moments.ToArray(), sorted);
        return sorted;
    }
}
