namespace EvenSplit.Core;

/// <summary>Hands on what comes of the events: entries in their order, each order's result with its sale.</summary>
/// <param name="refundsToCome">For each order, how many refunds of it there are.</param>
/// <param name="open">The workings of orders of which more is to come; those of others are put away.</param>
/// <param name="runs">Counts what will clear; null where there are no runs.</param>
/// <param name="onLedger">As <see cref="BookWatch"/> has it.</param>
internal sealed class Gathered(
    Rulebook rules, IReadOnlyList<Order> orders, int[] refundsToCome, OrderLedger?[] open, IResultTaker taker, RunsOverTime? runs, Action<OrderLedger>? onLedger)
{
    private readonly bool[] _isTaken = new bool[orders.Count];

    public List<CalculationException> Exceptions { get; } = [];

    /// <summary>Takes over the events of a stretch, which must be settled. Stretches come in their order.</summary>
    public void Take(ArraySegment<BookEvent> events, Stretch stretch)
    {
        for (var i = 0; i < events.Count; i++)
        {
            var index = events[i].OrderIndex;
            var (ledger, posted) = stretch.Outcome(i, events[i]);
            taker.Take(posted);
            runs?.Add(posted);
            if (events[i].Refund is not null)
            {
                refundsToCome[index]--;
            }
            else
            {
                _isTaken[index] = true;
                taker.Take(index, new OrderResult(ledger.Order, OrderStatus.Calculated, ledger.Attribution, ledger.Figures, ledger.Earnings, ledger.House));
            }
            if (refundsToCome[index] > 0) continue;
            // Nothing more comes of it: its workings go.
            if (events[i].Refund is not null) open[index] = null;
            Exceptions.AddRange(ledger.RawExceptions);
            onLedger?.Invoke(ledger);
        }
    }

    /// <summary>Takes over the orders without events.</summary>
    public void TakeOthers()
    {
        for (var i = 0; i < orders.Count; i++)
        {
            if (!_isTaken[i]) taker.Take(i, WithoutEffect(orders[i]));
        }
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
