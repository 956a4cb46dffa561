namespace EvenSplit.Core;

/// <summary>Works out a whole book at once from its facts: orders, refunds and runs in the order of their instants.</summary>
public static class WholeBook
{
    /// <param name="onLedger">Where given, receives every paid order's ledger after its last event; then amounts carry their traces.</param>
    public static BookResult WorkOut(Facts facts, Action<OrderLedger>? onLedger = null)
    {
        var orders = facts.Orders.ToDictionary(o => o.Id);
        var origins = new OriginAttribution(facts.Rules, orders);
        var progress = new ProgressBook(facts.Rules);
        var events = BookEvents.InOrder(facts, orders);
        var refundsToCome = facts.Refunds.GroupBy(r => r.Order).ToDictionary(g => g.Key, g => g.Count());
        var open = new Dictionary<OrderId, OrderLedger>();
        var results = new Dictionary<OrderId, OrderResult>(orders.Count);
        var exceptions = new List<CalculationException>();
        var entries = new List<Entry>();
        foreach (var (order, refund, at) in events)
        {
            progress.MoveTo(facts.Rules.Policy.Time.DateOf(at));
            OrderLedger ledger;
            if (refund is null)
            {
                ledger = new OrderLedger(facts.Rules, order, origins.Of(order), progress, explain: onLedger is not null);
                progress.CountSale(ledger);
                entries.AddRange(ledger.SaleEntries);
            }
            else
            {
                ledger = open[order.Id];
                var taken = ledger.Take(refund);
                progress.CountRefund(ledger, taken);
                entries.AddRange(taken.Entries);
                refundsToCome[order.Id]--;
            }
            // An order whose last event is past is put away: its figures stay, its workings go.
            if (refundsToCome.GetValueOrDefault(order.Id) > 0)
            {
                open[order.Id] = ledger;
                continue;
            }
            open.Remove(order.Id);
            results[order.Id] = ResultOf(ledger, exceptions);
            onLedger?.Invoke(ledger);
        }
        var listed = facts.Orders.Select(o => results.GetValueOrDefault(o.Id) ?? WithoutEffect(facts.Rules, o, exceptions)).ToArray();
        var runs = new RunsOverTime(facts, entries).WorkOut(exceptions);
        return new BookResult(listed, entries, runs, CalculationException.Listed(exceptions));
    }

    private static OrderResult ResultOf(OrderLedger ledger, List<CalculationException> exceptions)
    {
        exceptions.AddRange(ledger.Exceptions);
        return new OrderResult(ledger.Order, OrderStatus.Calculated, ledger.Attribution, ledger.Figures, ledger.Earnings, ledger.House);
    }

    /// <summary>A test order has no figures; an unpaid one has its totals, and the house as if nobody earned.</summary>
    private static OrderResult WithoutEffect(Rulebook rules, Order order, List<CalculationException> exceptions)
    {
        if (order.IsTest) return new OrderResult(order, OrderStatus.Test, AttributionDecision.Nobody, null, 0, 0);
        var figures = OrderWaterfall.WorkOut(rules, order, attributed: false, exceptions);
        var house = figures.Charged + figures.Rebate - figures.Tax - figures.ProcessingFee - figures.ChannelFee;
        return new OrderResult(order, OrderStatus.Unpaid, AttributionDecision.Nobody, figures, 0, house);
    }
}
