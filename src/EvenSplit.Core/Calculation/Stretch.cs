using System.Runtime.ExceptionServices;

namespace EvenSplit.Core;

/// <summary>
/// A stretch of events whose orders are worked out side by side, each as if nobody's progress moved within the stretch. What came out is
/// then gone through in the order of the events: where progress did move and a case turns out otherwise, the order is worked out again.
/// </summary>
/// <param name="refundsToCome">For each order, how many refunds of it there are that are not settled.</param>
/// <param name="open">The workings of orders of which refunds are to come, which are kept till then.</param>
internal sealed class Stretch(Facts facts, OriginAttribution origins, ProgressTracks tracks, int[] refundsToCome, OrderLedger?[] open, bool explain)
{
    /// <summary>So few that seldom a payee moves up a step within it, so many that sharing them out costs little.</summary>
    private const int Most = 2048;

    private sealed class Slot
    {
        public OrderLedger? Ledger;
        public RefundTaken? Taken;
        public readonly List<ProgressChange> Changes = [];
        /// <summary>Why it could not be worked out.</summary>
        public ExceptionDispatchInfo? Failed;
        /// <summary>The order's next event in the stretch; -1 where there is none.</summary>
        public int Next;
    }

    private readonly Slot[] _slots = Enumerable.Range(0, explain ? 1 : Most).Select(_ => new Slot()).ToArray();
    private readonly Dictionary<int, int> _lastOfOrder = [];
    private readonly List<int> _firstOfOrder = [];
    private readonly HashSet<int> _again = [];

    // With traces an order names what its payee had reached, so each is worked out after the one before.
    public int Length => _slots.Length;

    /// <summary>Works out the orders of some events, as many as <see cref="Length"/> at most.</summary>
    public void WorkOut(ArraySegment<BookEvent> events, ProgressBook progress)
    {
        progress.BeginStretch();
        FindOrders(events);
        if (_firstOfOrder.Count == 1) WorkOut(0, events, progress);
        else SideBySide.For(_firstOfOrder.Count, i => WorkOut(_firstOfOrder[i], events, progress));
    }

    /// <summary>Settles one event for good, once all before it are counted.</summary>
    /// <param name="at">Position in the stretch; taken one after another from 0.</param>
    /// <returns>What it adds to the tracks.</returns>
    public List<ProgressChange> Settle(int at, BookEvent what, ProgressBook progress)
    {
        var slot = _slots[at];
        if (what.Refund is null)
        {
            if (slot.Failed is not null || (progress.HasMoved(slot.Changes) && !slot.Ledger!.HoldsFor(progress)))
            {
                _again.Add(what.OrderIndex);
                Sale(slot, what, progress);
            }
        }
        else if (_again.Contains(what.OrderIndex))
        {
            Take(slot, what);
        }
        else
        {
            slot.Failed?.Throw();
        }
        return slot.Changes;
    }

    /// <summary>What came of one event that is settled, until the next stretch is worked out here.</summary>
    public (OrderLedger Ledger, IReadOnlyList<Entry> Entries) Outcome(int at, BookEvent what)
    {
        var slot = _slots[at];
        return (slot.Ledger!, what.Refund is null ? slot.Ledger!.SaleEntries : slot.Taken!.Entries);
    }

    private void FindOrders(ArraySegment<BookEvent> events)
    {
        _lastOfOrder.Clear();
        _firstOfOrder.Clear();
        _again.Clear();
        for (var i = 0; i < events.Count; i++)
        {
            (_slots[i].Next, _slots[i].Failed) = (-1, null);
            if (_lastOfOrder.TryGetValue(events[i].OrderIndex, out var last)) _slots[last].Next = i;
            else _firstOfOrder.Add(i);
            _lastOfOrder[events[i].OrderIndex] = i;
        }
    }

    private void WorkOut(int first, ArraySegment<BookEvent> events, IProgressBefore progress)
    {
        for (var at = first; at >= 0; at = _slots[at].Next)
        {
            try
            {
                if (events[at].Refund is null) Sale(_slots[at], events[at], progress);
                else Take(_slots[at], events[at]);
            }
            catch (OverflowException beyond)
            {
                // Perhaps only because progress is not what it will be.
                _slots[at].Failed = ExceptionDispatchInfo.Capture(beyond);
                return;
            }
        }
    }

    private void Sale(Slot slot, BookEvent sale, IProgressBefore progress)
    {
        var order = facts.Orders[sale.OrderIndex];
        slot.Ledger = new OrderLedger(facts.Rules, order, origins.Of(order), progress, explain);
        if (refundsToCome[sale.OrderIndex] > 0) open[sale.OrderIndex] = slot.Ledger;
        slot.Changes.Clear();
        tracks.OfSale(slot.Ledger, slot.Changes);
    }

    private void Take(Slot slot, BookEvent refund)
    {
        slot.Ledger = open[refund.OrderIndex]!;
        slot.Taken = slot.Ledger.Take(refund.Refund!);
        slot.Changes.Clear();
        tracks.OfRefund(slot.Ledger, slot.Taken, slot.Changes);
    }
}
