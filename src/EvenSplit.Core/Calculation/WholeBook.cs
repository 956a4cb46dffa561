namespace EvenSplit.Core;

/// <summary>Works out a whole book at once from its facts: orders, refunds and runs in the order of their instants.</summary>
public static class WholeBook
{
    /// <param name="onLedger">Where given, receives every paid order's ledger after its last event; then amounts carry their traces.</param>
    public static BookResult WorkOut(Facts facts, Action<OrderLedger>? onLedger = null)
    {
        var orders = facts.Orders;
        var indexes = new Dictionary<string, int>(orders.Count);
        for (var i = 0; i < orders.Count; i++) indexes.Add(orders[i].Id.Value, i);
        var refunded = new int[facts.Refunds.Count];
        for (var i = 0; i < refunded.Length; i++) refunded[i] = indexes[facts.Refunds[i].Order.Value];
        var refundsToCome = new int[orders.Count];
        foreach (var index in refunded) refundsToCome[index]++;
        var origins = new OriginAttribution(facts.Rules, orders, indexes);
        var tracks = new ProgressTracks(facts.Rules);
        var progress = new ProgressBook(tracks);
        var open = new OrderLedger?[orders.Count];
        var stretch = new Stretch(facts, origins, tracks, open, explain: onLedger is not null);
        var results = new OrderResult[orders.Count];
        var exceptions = new List<CalculationException>();
        var entries = new List<Entry>(orders.Count * 2);
        var events = BookEvents.InOrder(facts, refunded);
        for (var start = 0; start < events.Length; start += stretch.Length)
        {
            var part = new ArraySegment<BookEvent>(events, start, Math.Min(stretch.Length, events.Length - start));
            stretch.WorkOut(part, progress);
            for (var i = 0; i < part.Count; i++)
            {
                var index = part[i].OrderIndex;
                var (ledger, posted, changes) = stretch.Outcome(i, part[i], progress);
                progress.Count(facts.Rules.Policy.Time.DateOf(part[i].At), changes);
                entries.AddRange(posted);
                if (part[i].Refund is not null) refundsToCome[index]--;
                if (refundsToCome[index] > 0) continue;
                // An order whose last event is past is put away: its figures stay, its workings go.
                open[index] = null;
                exceptions.AddRange(ledger.RawExceptions);
                results[index] = new OrderResult(ledger.Order, OrderStatus.Calculated, ledger.Attribution, ledger.Figures, ledger.Earnings, ledger.House);
                onLedger?.Invoke(ledger);
            }
        }
        for (var i = 0; i < results.Length; i++) results[i] ??= WithoutEffect(facts.Rules, orders[i], exceptions);
        var listing = Task.Run(() => CalculationException.Listed(exceptions).ToList());
        var ofRuns = new List<CalculationException>();
        var runs = facts.Runs.Count == 0 ? [] : new RunsOverTime(facts, entries).WorkOut(ofRuns);
        var listed = listing.GetAwaiter().GetResult();
        foreach (var exception in ofRuns) CalculationException.List(listed, exception);
        return new BookResult(results, entries, runs, listed);
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
