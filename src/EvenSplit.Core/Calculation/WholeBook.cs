namespace EvenSplit.Core;

/// <summary>Works out a whole book at once from its facts: orders, refunds and runs in the order of their instants.</summary>
public static class WholeBook
{
    /// <param name="earlier">What orders have added to payees' progress that are not among the facts; null where all there are are.</param>
    /// <exception cref="BeyondLargestAmountException">An amount that comes of the facts is beyond 2^63 − 1.</exception>
    public static BookResult WorkOut(Facts facts, BookWatch? watch = null, EarlierProgress? earlier = null)
    {
        var kept = new KeptResults(facts.Orders.Count);
        var (runs, exceptions) = WorkOut(facts, kept, watch, earlier);
        return new BookResult(kept.Orders, kept.Entries, runs, exceptions);
    }

    /// <summary>The same, with orders and entries handed on as they come.</summary>
    /// <inheritdoc cref="WorkOut(Facts, BookWatch?, EarlierProgress?)"/>
    public static (IReadOnlyList<RunResult> Runs, IReadOnlyList<CalculationException> Exceptions) WorkOut(Facts facts, IResultTaker taker, BookWatch? watch = null, EarlierProgress? earlier = null)
    {
        var orders = facts.Orders;
        var indexes = new Dictionary<string, int>(orders.Count);
        for (var i = 0; i < orders.Count; i++) indexes.Add(orders[i].Id.Value, i);
        var refunded = new int[facts.Refunds.Count];
        for (var i = 0; i < refunded.Length; i++) refunded[i] = indexes[facts.Refunds[i].Order.Value];
        var refundsToCome = new int[orders.Count];
        foreach (var index in refunded) refundsToCome[index]++;
        var open = new OrderLedger?[orders.Count];
        var overTime = facts.Runs.Count == 0 ? null : new RunsOverTime(facts);
        var gathered = new Gathered(facts.Rules, orders, refundsToCome, open, taker, overTime, watch?.OnLedger);
        Settle(facts, BookEvents.InOrder(facts, refunded), new OriginAttribution(facts.Rules, orders, indexes), refundsToCome, open, gathered, watch ?? new BookWatch(), earlier);
        gathered.TakeOthers();
        var listing = Task.Run(() => CalculationException.Listed(gathered.Exceptions).ToList());
        var ofRuns = new List<CalculationException>();
        var runs = overTime?.WorkOut(ofRuns) ?? [];
        var listed = listing.GetAwaiter().GetResult();
        foreach (var exception in ofRuns) CalculationException.List(listed, exception);
        return (runs, listed);
    }

    private static void Settle(Facts facts, BookEvent[] events, OriginAttribution origins, int[] refundsToCome, OrderLedger?[] open, Gathered gathered, BookWatch watch, EarlierProgress? earlier)
    {
        var tracks = earlier?.Tracks ?? watch.Tracks ?? new ProgressTracks(facts.Rules);
        var progress = new ProgressBook(tracks);
        if (earlier is not null) progress.BeginFrom(earlier);
        // What came of one stretch is gathered while the next is worked out in the other.
        var (stretch, other) = (new Stretch(facts, origins, tracks, refundsToCome, open, watch.Explain), new Stretch(facts, origins, tracks, refundsToCome, open, watch.Explain));
        var gathering = Task.CompletedTask;
        for (var start = 0; start < events.Length; start += stretch.Length, (stretch, other) = (other, stretch))
        {
            var part = new ArraySegment<BookEvent>(events, start, Math.Min(stretch.Length, events.Length - start));
            stretch.WorkOut(part, progress);
            for (var i = 0; i < part.Count; i++) Count(i, part[i], stretch);
            gathering.GetAwaiter().GetResult();
            if (watch.Explain) gathered.Take(part, stretch);
            else gathering = Gather(part, stretch);
        }
        gathering.GetAwaiter().GetResult();

        void Count(int at, BookEvent what, Stretch settling)
        {
            try
            {
                if (earlier is not null) progress.CountEarlier(MomentOf(what));
                var on = facts.Rules.Policy.Time.DateOf(what.At);
                var changes = settling.Settle(at, what, progress);
                progress.Count(on, changes);
                if (watch.OnEvent is not { } tell) return;
                tell(new SettledEvent(MomentOf(what), facts.Orders[what.OrderIndex].Id, what.Refund?.Id, on, changes));
            }
            catch (OverflowException beyond) when (beyond is not BeyondLargestAmountException)
            {
                throw new BeyondLargestAmountException(facts.Orders[what.OrderIndex].Id, beyond);
            }
        }

        BookEvents.Moment MomentOf(BookEvent what) => BookEvents.MomentOf(what, facts.Orders[what.OrderIndex]);

        Task Gather(ArraySegment<BookEvent> part, Stretch settled) => Task.Run(() => gathered.Take(part, settled));
    }
}
