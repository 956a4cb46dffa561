using EvenSplit.Books.Model;
using EvenSplit.Core;

namespace EvenSplit.Books.Posting;

/// <summary>An event of a track.</summary>
/// <param name="IsSettled">Whether its order was worked out in this sweep, so that nothing before it can change any more.</param>
internal readonly record struct KeptEvent(BookEvents.Moment Moment, long OrderKey, ProgressFigures Figures, bool IsSettled)
{
    public bool SaysTheSameAs(in KeptEvent other) => OrderKey == other.OrderKey && Figures == other.Figures;
}

/// <summary>One day of a track: its events as the book has them, and as they are now.</summary>
internal sealed class KeptDay(DateOnly on, ProgressSpan was)
{
    private DayEvents _was = new();
    private DayEvents _now = new();

    public DateOnly On => on;

    /// <summary>All events together, as the book has them.</summary>
    public ProgressSpan Was { get; private set; } = was;

    public ProgressSpan Now => IsChanged ? _now.Before(_now.Count) : Was;

    /// <summary>Whether its events have been read. Set once they all are, for other threads to see.</summary>
    public bool IsRead
    {
        get => Volatile.Read(ref _isRead);
        private set => Volatile.Write(ref _isRead, value);
    }

    private bool _isRead;

    public bool IsChanged { get; private set; }

    public int Count => _now.Count;

    public KeptEvent this[int index] => _now[index];

    public void Read(IEnumerable<ProgressEventRecord> events)
    {
        foreach (var held in events)
        {
            var one = new KeptEvent(new BookEvents.Moment(held.At, held.IsRefund, held.EventId), held.OrderId, new ProgressFigures(held.Sales, held.Orders, held.Earned), false);
            _was.Add(one);
            _now.Add(one);
        }
        // Summed up at once: several threads may ask.
        _was.Before(_was.Count);
        IsRead = true;
    }

    /// <summary>What the events of the day before a moment add, as the book has them.</summary>
    public ProgressSpan WasBefore(BookEvents.Moment moment) => _was.Before(_was.IndexOf(moment));

    public ProgressSpan NowBefore(BookEvents.Moment moment) => _now.Before(_now.IndexOf(moment));

    /// <returns>Where the first event at or after a moment stands.</returns>
    public int IndexOf(BookEvents.Moment moment) => _now.IndexOf(moment);

    public void Insert(KeptEvent one)
    {
        _now.Insert(_now.IndexOf(one.Moment), one);
        IsChanged = true;
    }

    public void Remove(BookEvents.Moment moment)
    {
        _now.RemoveAt(_now.IndexOf(moment));
        IsChanged = true;
    }

    /// <summary>What is now is what the book has from here on.</summary>
    public void Saved()
    {
        if (!IsChanged) return;
        (Was, IsChanged) = (Now, false);
        _was = _now.AsOfTheBook();
        _now = _now.AsOfTheBook();
    }

    /// <summary>Lets its events go; they are read again when they are needed.</summary>
    public void Forget() => (_was, _now, IsRead) = (new DayEvents(), new DayEvents(), false);

    /// <summary>What the book has and is to have no more, or otherwise; and what it is to have.</summary>
    public (IReadOnlyList<KeptEvent> Gone, IReadOnlyList<KeptEvent> Come) Differences()
    {
        var (gone, come) = (new List<KeptEvent>(), new List<KeptEvent>());
        for (var (i, j) = (0, 0); i < _was.Count || j < _now.Count;)
        {
            var order = i == _was.Count ? 1 : j == _now.Count ? -1 : _was[i].Moment.CompareTo(_now[j].Moment);
            if (order == 0 && _was[i].SaysTheSameAs(_now[j]))
            {
                i++;
                j++;
                continue;
            }
            if (order <= 0) gone.Add(_was[i++]);
            if (order >= 0) come.Add(_now[j++]);
        }
        return (gone, come);
    }

    /// <summary>Events in their order, with what all before each add; told anew only behind what has changed.</summary>
    private sealed class DayEvents
    {
        private readonly List<KeptEvent> _events = [];
        private readonly List<ProgressSpan> _before = [default];

        public int Count => _events.Count;

        public KeptEvent this[int index] => _events[index];

        public void Add(KeptEvent one) => _events.Add(one);

        public void Insert(int index, KeptEvent one)
        {
            Forget(index);
            _events.Insert(index, one);
        }

        public void RemoveAt(int index)
        {
            Forget(index);
            _events.RemoveAt(index);
        }

        public ProgressSpan Before(int index)
        {
            while (_before.Count <= index) _before.Add(_before[^1].Then(ProgressSpan.Of(_events[_before.Count - 1].Figures)));
            return _before[index];
        }

        public int IndexOf(BookEvents.Moment moment)
        {
            var (low, high) = (0, _events.Count);
            while (low < high)
            {
                var middle = (low + high) / 2;
                if (_events[middle].Moment.CompareTo(moment) < 0) low = middle + 1;
                else high = middle;
            }
            return low;
        }

        public DayEvents AsOfTheBook()
        {
            var kept = new DayEvents();
            foreach (var one in _events) kept.Add(one with { IsSettled = false });
            return kept;
        }

        private void Forget(int index)
        {
            if (_before.Count > index + 1) _before.RemoveRange(index + 1, _before.Count - index - 1);
        }
    }
}
