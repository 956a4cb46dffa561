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
        var open = new OrderLedger?[orders.Count];
        var gathered = new Gathered(facts.Rules, orders, refundsToCome, open, onLedger);
        Settle(facts, BookEvents.InOrder(facts, refunded), new OriginAttribution(facts.Rules, orders, indexes), open, gathered, explain: onLedger is not null);
        var results = gathered.Results();
        var listing = Task.Run(() => CalculationException.Listed(gathered.Exceptions).ToList());
        var ofRuns = new List<CalculationException>();
        var runs = facts.Runs.Count == 0 ? [] : new RunsOverTime(facts, gathered.Entries).WorkOut(ofRuns);
        var listed = listing.GetAwaiter().GetResult();
        foreach (var exception in ofRuns) CalculationException.List(listed, exception);
        return new BookResult(results, gathered.Entries, runs, listed);
    }

    private static void Settle(Facts facts, BookEvent[] events, OriginAttribution origins, OrderLedger?[] open, Gathered gathered, bool explain)
    {
        var tracks = new ProgressTracks(facts.Rules);
        var progress = new ProgressBook(tracks);
        // What came of one stretch is gathered while the next is worked out in the other.
        var (stretch, other) = (new Stretch(facts, origins, tracks, open, explain), new Stretch(facts, origins, tracks, open, explain));
        var gathering = Task.CompletedTask;
        for (var start = 0; start < events.Length; start += stretch.Length, (stretch, other) = (other, stretch))
        {
            var part = new ArraySegment<BookEvent>(events, start, Math.Min(stretch.Length, events.Length - start));
            stretch.WorkOut(part, progress);
            for (var i = 0; i < part.Count; i++) progress.Count(facts.Rules.Policy.Time.DateOf(part[i].At), stretch.Settle(i, part[i], progress));
            gathering.GetAwaiter().GetResult();
            if (explain) gathered.Take(part, stretch);
            else gathering = Gather(part, stretch);
        }
        gathering.GetAwaiter().GetResult();

        Task Gather(ArraySegment<BookEvent> part, Stretch settled) => Task.Run(() => gathered.Take(part, settled));
    }
}
