using EvenSplit.Books.Model;
using EvenSplit.Core;

namespace EvenSplit.Books.Posting;

/// <summary>An order with what it comes to.</summary>
internal sealed record WorkedOut(HeldOrder Held, OrderOutcome Outcome);

/// <summary>
/// Works orders out in the order of their payments, so that each finds how far its payees had come; where that changes what a later order
/// of the book gave, works that one out again too, and no other. Many orders are first worked out side by side, as if nobody's progress had changed, and
/// again only where that turns out to matter.
/// </summary>
/// <param name="tracks">How far payees have come, as the book has it.</param>
/// <param name="alongside">Whether that is written by another thread, as <see cref="BulkWriter{T}.WriteAll"/> has it.</param>
internal sealed class OutcomesInTime(BookDbContext db, OpenedBook book, KeptTracks tracks, bool alongside)
{
    /// <summary>Below so many, sharing out costs more than it gains.</summary>
    private const int Many = 32;

    private readonly Dictionary<long, WorkedOut> _workedOut = [];
    private readonly Dictionary<long, HeldOrder> _orders = [];

    /// <param name="held">Orders of the book.</param>
    /// <param name="added">Orders that are only now coming into it.</param>
    /// <returns>By order key, these and the others that had to be looked at again.</returns>
    public IReadOnlyDictionary<long, WorkedOut> WorkOut(IReadOnlyCollection<HeldOrder> held, IReadOnlyCollection<HeldOrder> added)
    {
        foreach (var order in held.Concat(added)) _orders[order.Record.Id] = order;
        var origins = new OriginsInBook(db, book.Rules, _orders.Values.Select(o => o.Order).ToArray());
        if (book.Progress.AreNone)
        {
            var outcomes = Ahead(origins, _ => NobodysProgress.Instance);
            foreach (var (key, order) in _orders) _workedOut[key] = new WorkedOut(order, outcomes.GetValueOrDefault(key) ?? WorkOut(order, origins, NobodysProgress.Instance));
            return _workedOut;
        }
        InTime(held, origins);
        return _workedOut;
    }

    private void InTime(IReadOnlyCollection<HeldOrder> held, OriginsInBook origins)
    {
        var sweep = new ProgressSweep(db, tracks);
        var ahead = _orders.Count < Many ? [] : Ahead(origins, sweep.WasBefore);
        foreach (var order in held) sweep.TakeOff(order);
        var queue = new SortedDictionary<BookEvents.Moment, long>();
        foreach (var order in _orders.Values)
        {
            if (Counts(order.Order)) queue.Add(BookEvents.Moment.Of(order.Order), order.Record.Id);
            else Keep(order, WorkOut(order, origins, NobodysProgress.Instance));
        }
        while (true)
        {
            BookEvents.Moment? next = queue.Count > 0 ? queue.First().Key : null;
            if (sweep.ToLookAt(next) is { Count: > 0 } again)
            {
                foreach (var (orderKey, payment) in again) queue.TryAdd(payment, orderKey);
                foreach (var unread in HeldOrder.Of(db, [.. again.Select(a => a.OrderKey).Where(k => !_orders.ContainsKey(k)).Distinct()])) _orders[unread.Record.Id] = unread;
                continue;
            }
            if (next is not { } moment) break;
            queue.Remove(moment, out var key);
            var order = _orders[key];
            var progress = sweep.Before(order.Order);
            Keep(order, ahead.GetValueOrDefault(key) is { Ledger: { } ledger } thought && ledger.HoldsFor(progress) ? thought : WorkOut(order, origins, progress));
        }
        sweep.Save(alongside);

        void Keep(HeldOrder order, OrderOutcome outcome)
        {
            _workedOut[order.Record.Id] = new WorkedOut(order, outcome);
            sweep.Replace(order, outcome.Events);
        }
    }

    /// <summary>Works orders out side by side.</summary>
    /// <returns>By order key; without those that could not be worked out, perhaps only because progress is not what it will be.</returns>
    private Dictionary<long, OrderOutcome> Ahead(OriginsInBook origins, Func<Order, IProgressBefore> progress)
    {
        var orders = _orders.Values.Select(o => (Held: o, Origin: origins.Of(o.Order))).ToArray();
        var outcomes = new OrderOutcome?[orders.Length];
        SideBySide.For(orders.Length, i =>
        {
            try
            {
                outcomes[i] = WorkOut(orders[i].Held, orders[i].Origin, Counts(orders[i].Held.Order) ? progress(orders[i].Held.Order) : NobodysProgress.Instance);
            }
            catch (OverflowException)
            {
                // Fails again, or does not, when its turn comes.
            }
        });
        return orders.Zip(outcomes).Where(o => o.Second is not null).ToDictionary(o => o.First.Held.Record.Id, o => o.Second!);
    }

    private OrderOutcome WorkOut(HeldOrder order, OriginsInBook origins, IProgressBefore progress) => WorkOut(order, origins.Of(order.Order), progress);

    private OrderOutcome WorkOut(HeldOrder order, AttributionDecision? origin, IProgressBefore progress) =>
        OrderOutcome.WorkOut(book, order.Order, order.Refunds.Select(r => r.Refund), origin, progress);

    private static bool Counts(Order order) => !order.IsTest && order.PaidAt is not null;

    private sealed class NobodysProgress : IProgressBefore
    {
        public static NobodysProgress Instance { get; } = new();

        public ProgressFigures Of(PayeeId payee, Agreement agreement, ProgressWindow window, DateOnly paidOn) =>
            throw new InvalidOperationException($"A term of {agreement.Id} asks for the progress of {payee}, whose track is not kept.");
    }
}
