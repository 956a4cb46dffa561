namespace EvenSplit.Core;

/// <summary>Works out a whole book at once from its facts: orders, refunds and runs in the order of their instants.</summary>
public static class WholeBook
{
    public static BookResult WorkOut(Facts facts)
    {
        var orders = facts.Orders.ToDictionary(o => o.Id);
        var origins = new OriginAttribution(facts.Rules, orders);
        var progress = new ProgressBook(facts.Rules);
        var ledgers = new Dictionary<OrderId, OrderLedger>(orders.Count);
        var exceptions = new List<CalculationException>();
        var entries = new List<Entry>();
        foreach (var (at, order, refund) in Events(facts, orders))
        {
            progress.MoveTo(facts.Rules.Policy.Time.DateOf(at));
            if (refund is null)
            {
                var ledger = new OrderLedger(facts.Rules, order, origins.Of(order), progress);
                ledgers.Add(order.Id, ledger);
                progress.CountSale(ledger);
                entries.AddRange(ledger.SaleEntries);
            }
            else
            {
                var ledger = ledgers[order.Id];
                var wasEmpty = ledger.NothingLeft;
                var (posted, goodsTaken) = ledger.Take(refund);
                progress.CountRefund(ledger, refund, posted, goodsTaken, !wasEmpty && ledger.NothingLeft);
                entries.AddRange(posted);
            }
        }
        var results = facts.Orders.Select(order => ResultOf(facts.Rules, order, ledgers, exceptions)).ToArray();
        var runs = new RunsOverTime(facts, entries).WorkOut(exceptions);
        return new BookResult(results, entries, runs, CalculationException.Listed(exceptions));
    }

    /// <summary>Payments and refunds in the order of instants, a payment before a refund at the same instant, then ids.</summary>
    private static IEnumerable<(DateTimeOffset At, Order Order, Refund? Refund)> Events(Facts facts, Dictionary<OrderId, Order> orders)
    {
        var payments = facts.Orders
            .Where(o => o.PaidAt is not null && !o.IsTest)
            .Select(o => (At: o.PaidAt!.Value, Order: o, Refund: (Refund?)null, Id: o.Id.Value));
        var refunds = facts.Refunds
            .Select(r => (Refund: r, Order: orders[r.Order]))
            .Where(r => r.Order.PaidAt is not null && !r.Order.IsTest)
            .Select(r => (At: r.Refund.At < r.Order.PaidAt!.Value ? r.Order.PaidAt.Value : r.Refund.At, r.Order, Refund: (Refund?)r.Refund, Id: r.Refund.Id.Value));
        return payments.Concat(refunds)
            .OrderBy(e => e.At.UtcTicks).ThenBy(e => e.Refund is null ? 0 : 1).ThenBy(e => e.Id, IdOrder.Comparer)
            .Select(e => (e.At, e.Order, e.Refund));
    }

    private static OrderResult ResultOf(
        Rulebook rules, Order order, Dictionary<OrderId, OrderLedger> ledgers, List<CalculationException> exceptions)
    {
        if (order.IsTest) return new OrderResult(order, OrderStatus.Test, AttributionDecision.Nobody, null, 0, 0);
        if (ledgers.TryGetValue(order.Id, out var ledger))
        {
            exceptions.AddRange(ledger.Exceptions);
            return new OrderResult(order, OrderStatus.Calculated, ledger.Attribution, ledger.Figures, ledger.Earnings, ledger.House);
        }
        var figures = OrderWaterfall.WorkOut(rules, order, attributed: false, exceptions);
        var house = figures.Charged + figures.Rebate - figures.Tax - figures.ProcessingFee - figures.ChannelFee;
        return new OrderResult(order, OrderStatus.Unpaid, AttributionDecision.Nobody, figures, 0, house);
    }
}
