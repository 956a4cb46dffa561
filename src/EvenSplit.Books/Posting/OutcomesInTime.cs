using EvenSplit.Books.Model;
using EvenSplit.Core;

namespace EvenSplit.Books.Posting;

/// <summary>An order with what it comes to.</summary>
internal sealed record WorkedOut(HeldOrder Held, OrderOutcome Outcome);

/// <summary>
/// Works orders out in the order of their payments, so that each finds how far its payees had come; where that changes what a later order
/// of the book gave, works that one out again too, and no other.
/// </summary>
internal sealed class OutcomesInTime(BookDbContext db, OpenedBook book)
{
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
            foreach (var order in _orders.Values) WorkOut(order, origins, NobodysProgress.Instance);
            return _workedOut;
        }
        var sweep = new ProgressSweep(db, book, EarliestChange(held, added));
        sweep.TakeOff([.. held.Select(o => o.Record.Id)]);
        foreach (var order in added) sweep.IsNew(order.Record.Id);
        var queue = new SortedDictionary<BookEvents.Moment, long>();
        foreach (var order in _orders.Values)
        {
            if (Counts(order.Order)) queue.Add(BookEvents.Moment.Of(order.Order), order.Record.Id);
            else WorkOut(order, origins, sweep, sweep);
        }
        while (true)
        {
            BookEvents.Moment? next = queue.Count > 0 ? queue.First().Key : null;
            if (sweep.ToLookAt(next) is { Count: > 0 } again)
            {
                foreach (var (orderKey, payment) in again) queue.TryAdd(payment, orderKey);
                continue;
            }
            if (next is not { } moment) break;
            queue.Remove(moment, out var key);
            if (!_orders.TryGetValue(key, out var order)) _orders[key] = order = HeldOrder.Of(db, [key])[0];
            sweep.MoveTo(order.Order);
            WorkOut(order, origins, sweep, sweep);
        }
        sweep.Save();
        return _workedOut;
    }

    private void WorkOut(HeldOrder order, OriginsInBook origins, IProgressBefore progress, ProgressSweep? sweep = null)
    {
        var outcome = OrderOutcome.WorkOut(book, order.Order, order.Refunds.Select(r => r.Refund), origins.Of(order.Order), progress);
        _workedOut[order.Record.Id] = new WorkedOut(order, outcome);
        sweep?.Replace(order.Record.Id, outcome.Events);
    }

    /// <summary>Nothing before it is touched: neither what the orders add now nor what they added before.</summary>
    private long EarliestChange(IReadOnlyCollection<HeldOrder> held, IReadOnlyCollection<HeldOrder> added)
    {
        var now = held.Concat(added).Where(o => Counts(o.Order)).Select(o => o.Order.PaidAt!.Value.UtcTicks).DefaultIfEmpty(long.MaxValue).Min();
        if (held.Count == 0) return now;
        var keys = held.Select(o => o.Record.Id).ToArray();
        return Math.Min(now, db.ProgressEvents.Where(e => keys.Contains(e.OrderId)).Min(e => (long?)e.At) ?? now);
    }

    private static bool Counts(Order order) => !order.IsTest && order.PaidAt is not null;

    private sealed class NobodysProgress : IProgressBefore
    {
        public static NobodysProgress Instance { get; } = new();

        public ProgressFigures Of(PayeeId payee, Agreement agreement, ProgressWindow window, DateOnly paidOn) =>
            throw new InvalidOperationException($"A term of {agreement.Id} asks for the progress of {payee}, whose track is not kept.");
    }
}
