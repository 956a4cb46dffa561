namespace EvenSplit.Core;

/// <summary>A payment, or a refund of the order.</summary>
internal readonly record struct BookEvent(int OrderIndex, Refund? Refund, DateTimeOffset At);

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
    /// <param name="refunded">For each refund, which order it is of.</param>
    internal static BookEvent[] InOrder(Facts facts, int[] refunded)
    {
        var events = new List<BookEvent>(facts.Orders.Count + facts.Refunds.Count);
        for (var i = 0; i < facts.Orders.Count; i++)
        {
            var order = facts.Orders[i];
            if (!order.IsTest && order.PaidAt is { } paidAt) events.Add(new BookEvent(i, null, paidAt));
        }
        for (var i = 0; i < refunded.Length; i++)
        {
            var (order, refund) = (facts.Orders[refunded[i]], facts.Refunds[i]);
            if (!order.IsTest && order.PaidAt is { } paidAt) events.Add(new BookEvent(refunded[i], refund, refund.TakesEffectAt(paidAt)));
        }
        var (instants, places) = (new long[events.Count], new int[events.Count]);
        for (var i = 0; i < places.Length; i++) (instants[i], places[i]) = (events[i].At.UtcTicks, i);
        Array.Sort(instants, places);
        var sorted = Array.ConvertAll(places, p => events[p]);
        // The rest of the order has to be asked for only where instants are the same, which is to the minute for shops that tell no seconds.
        var byMoment = Comparer<BookEvent>.Create((a, b) => MomentOf(a, facts.Orders[a.OrderIndex]).CompareTo(MomentOf(b, facts.Orders[b.OrderIndex])));
        var same = new List<(int Start, int Count)>();
        for (var (start, end) = (0, 1); start < sorted.Length; start = end++)
        {
            while (end < sorted.Length && instants[end] == instants[start]) end++;
            if (end - start > 1) same.Add((start, end - start));
        }
        SideBySide.For(same.Count, i => Array.Sort(sorted, same[i].Start, same[i].Count, byMoment));
        return sorted;
    }

    internal static Moment MomentOf(BookEvent what, Order order) => what.Refund is { } refund ? Moment.Of(refund, order) : Moment.Of(order);
}
