namespace EvenSplit.Core;

/// <summary>What has come of the events so far: entries in their order, and each order's result once its last event is past.</summary>
/// <param name="refundsToCome">For each order, how many refunds of it there are.</param>
/// <param name="open">The workings of orders of which more is to come; those of others are put away.</param>
/// <param name="onLedger">As <see cref="BookWatch"/> has it.</param>
internal sealed class Gathered(Rulebook rules, IReadOnlyList<Order> orders, int[] refundsToCome, OrderLedger?[] open, Action<OrderLedger>? onLedger)
{
    private readonly OrderResult?[] _results = new OrderResult?[orders.Count];

    public List<Entry> Entries { get; } = new(orders.Count * 2);

    public List<CalculationException> Exceptions { get; } = [];

    /// <summary>Takes over the events of a stretch, which must be settled. Stretches come in their order.</summary>
    public void Take(ArraySegment<BookEvent> events, Stretch stretch)
    {
        for (var i = 0; i < events.Count; i++)
        {
            var index = events[i].OrderIndex;
            var (ledger, posted) = stretch.Outcome(i, events[i]);
            Entries.AddRange(posted);
            if (events[i].Refund is not null) refundsToCome[index]--;
            if (refundsToCome[index] > 0) continue;
            // Its figures stay, its workings go.
            open[index] = null;
            Exceptions.AddRange(ledger.RawExceptions);
            _results[index] = new OrderResult(ledger.Order, OrderStatus.Calculated, ledger.Attribution, ledger.Figures, ledger.Earnings, ledger.House);
            onLedger?.Invoke(ledger);
        }
    }

    /// <summary>Every order's result, those without events too.</summary>
    public OrderResult[] Results()
    {
        var results = new OrderResult[orders.Count];
        for (var i = 0; i < results.Length; i++) results[i] = _results[i] ?? WithoutEffect(orders[i]);
        return results;
    }

    /// <summary>A test order has no figures; an unpaid one has its totals, and the house as if nobody earned.</summary>
    private OrderResult WithoutEffect(Order order)
    {
        if (order.IsTest) return new OrderResult(order, OrderStatus.Test, AttributionDecision.Nobody, null, 0, 0);
        try
        {
            var figures = OrderWaterfall.WorkOut(rules, order, attributed: false, Exceptions);
            var house = figures.Charged + figures.Rebate - figures.Tax - figures.ProcessingFee - figures.ChannelFee;
            return new OrderResult(order, OrderStatus.Unpaid, AttributionDecision.Nobody, figures, 0, house);
        }
        catch (OverflowException beyond)
        {
            throw new BeyondLargestAmountException(order.Id, beyond);
        }
    }
}
