using EvenSplit.Books.Model;
using EvenSplit.Core;

namespace EvenSplit.Books.Posting;

/// <summary>An event of a track.</summary>
internal readonly record struct KeptEvent(BookEvents.Moment Moment, long OrderKey, ProgressFigures Figures);

/// <summary>One day of a track: its events as the book has them, and as they are now.</summary>
internal sealed class KeptDay(DateOnly on, ProgressSpan was)
{
    private DayEvents _was = new();
    /// <summary>The same until something changes.</summary>
    private DayEvents? _changed;
    /// <summary>Events of orders that were worked out in this sweep, so that nothing before them can change any more.</summary>
    private readonly HashSet<BookEvents.Moment> _settled = [];

    public DateOnly On => on;

    /// <summary>All events together, as the book has them.</summary>
    public ProgressSpan Was { get; private set; } = was;

    public ProgressSpan Now => IsChanged ? Events.Before(Events.Count) : Was;

    /// <summary>Whether its events have been read. Set once they all are, for other threads to see.</summary>
    public bool IsRead
    {
        get => Volatile.Read(ref _isRead);
        private set => Volatile.Write(ref _isRead, value);
    }

    private bool _isRead;

    public bool IsChanged => _changed is not null;

    public int Count => Events.Count;

    private DayEvents Events => _changed ?? _was;

    public KeptEvent this[int index] => Events[index];

    public bool IsSettled(in KeptEvent one) => _settled.Contains(one.Moment);

    public void Read(IEnumerable<ProgressEventRecord> events)
    {
        foreach (var held in events)
        {
            _was.Add(new KeptEvent(new BookEvents.Moment(held.At, held.IsRefund, held.EventId), held.OrderId, new ProgressFigures(held.Sales, held.Orders, held.Earned)));
        }
        // Summed up at once: several threads may ask.
        _was.Before(_was.Count);
        IsRead = true;
    }

    /// <summary>What the events of the day before a moment add, as the book has them.</summary>
    public ProgressSpan WasBefore(BookEvents.Moment moment) => _was.Before(_was.IndexOf(moment));

    public ProgressSpan NowBefore(BookEvents.Moment moment) => Events.Before(Events.IndexOf(moment));

    /// <returns>Where the first event at or after a moment stands.</returns>
    public int IndexOf(BookEvents.Moment moment) => Events.IndexOf(moment);

    public void Insert(KeptEvent one)
    {
        var events = _changed ??= _was.Copy();
        events.Insert(events.IndexOf(one.Moment), one);
        _settled.Add(one.Moment);
    }

    public void Remove(BookEvents.Moment moment)
    {
        var events = _changed ??= _was.Copy();
        events.RemoveAt(events.IndexOf(moment));
        _settled.Remove(moment);
    }

    /// <summary>What is now is what the book has from here on.</summary>
    public void Saved()
    {
        if (_changed is null) return;
        (Was, _was, _changed) = (Now, _changed, null);
        _was.Before(_was.Count);
        _settled.Clear();
    }

    /// <summary>Lets its events go; they are read again when they are needed.</summary>
    public void Forget() => (_was, IsRead) = (new DayEvents(), false);

    /// <summary>What the book has and is to have no more, what it is to have as well, and what is to add something else in the same place.</summary>
    public (IReadOnlyList<KeptEvent> Gone, IReadOnlyList<KeptEvent> Come, IReadOnlyList<KeptEvent> Otherwise) Differences()
    {
        var (gone, come, otherwise) = (new List<KeptEvent>(), new List<KeptEvent>(), new List<KeptEvent>());
        for (var (i, j) = (0, 0); i < _was.Count || j < Count;)
        {
            var order = i == _was.Count ? 1 : j == Count ? -1 : _was[i].Moment.CompareTo(this[j].Moment);
            if (order == 0 && _was[i].OrderKey == this[j].OrderKey)
            {
                if (_was[i++].Figures != this[j++].Figures) otherwise.Add(this[j - 1]);
                continue;
            }
            if (order <= 0) gone.Add(_was[i++]);
            if (order >= 0) come.Add(this[j++]);
        }
        return (gone, come, otherwise);
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

        public DayEvents Copy()
        {
            var copy = new DayEvents();
            copy._events.AddRange(_events);
            copy._before.Clear();
            copy._before.AddRange(_before);
            return copy;
        }

        private void Forget(int index)
        {
            if (_before.Count > index + 1) _before.RemoveRange(index + 1, _before.Count - index - 1);
        }
    }
}
