using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Posting;

/// <summary>One track from a moment on: its events in their order, and how it stood before them.</summary>
internal sealed class KeptTrack
{
    private sealed class Event(BookEvents.Moment moment, ProgressEventRecord record, ProgressState askedAt)
    {
        public BookEvents.Moment Moment { get; } = moment;
        public ProgressEventRecord Record { get; } = record;
        /// <summary>How the track stood when the order of this payment was worked out.</summary>
        public ProgressState AskedAt { get; set; } = askedAt;
        public bool IsNew { get; init; }
    }

    private readonly TrackKey _track;
    private readonly Currency _currency;
    /// <summary>Null where no term asks any more.</summary>
    private readonly ProgressTrack? _asked;
    private readonly ProgressState _before;
    private readonly List<Event> _events = [];
    private readonly List<ProgressEventRecord> _removed = [];
    /// <summary>Index of the first event whose state is to be worked out again.</summary>
    private int _settled;

    public KeptTrack(BookDbContext db, ProgressTracks asked, TrackKey track, Currency currency, long fromUtcTicks)
    {
        (_asked, _track, _currency) = (asked.Find(track, currency), track, currency);
        var agreement = track.Agreement?.Value ?? "";
        var rows = db.ProgressEvents.AsNoTracking().Where(e => e.Payee == track.Payee.Value && e.Agreement == agreement && e.Currency == currency.Code);
        _before = rows.Where(e => e.At < fromUtcTicks).OrderByDescending(e => e.At).ThenByDescending(e => e.IsRefund).ThenByDescending(e => e.EventId)
            .Select(e => (ProgressState?)e.After).FirstOrDefault() ?? default;
        var state = _before;
        foreach (var row in rows.Where(e => e.At >= fromUtcTicks).OrderBy(e => e.At).ThenBy(e => e.IsRefund).ThenBy(e => e.EventId))
        {
            _events.Add(new Event(new BookEvents.Moment(row.At, row.IsRefund, row.EventId), row, state));
            state = row.After;
        }
        _settled = _events.Count;
    }

    /// <summary>How the track stood before a moment. Everything before it must be settled.</summary>
    public ProgressState Before(BookEvents.Moment moment)
    {
        var index = IndexOf(moment);
        return index == 0 ? _before : _events[index - 1].Record.After;
    }

    /// <summary>Puts an order's events in the place of those it had here.</summary>
    public void Replace(long orderKey, IReadOnlyList<(OrderEvent Event, ProgressFigures Figures)> events)
    {
        for (var i = _events.Count - 1; i >= 0; i--)
        {
            var held = _events[i];
            if (held.Record.OrderId != orderKey) continue;
            if (!held.IsNew) _removed.Add(held.Record);
            _events.RemoveAt(i);
            _settled = Math.Min(_settled, i);
        }
        foreach (var (happened, figures) in events)
        {
            var moment = happened.Moment;
            var index = IndexOf(moment);
            _settled = Math.Min(_settled, index);
            _events.Insert(index, new Event(moment, ToRecord(orderKey, happened, figures), index == 0 ? _before : _events[index - 1].Record.After) { IsNew = true });
        }
    }

    /// <summary>Works out the states of events before a moment again, as far as one whose order must be looked at again.</summary>
    /// <returns>That order and its payment; null where all before the moment is settled.</returns>
    public (long OrderKey, BookEvents.Moment Payment)? Settle(BookEvents.Moment? upTo)
    {
        for (; _settled < _events.Count; _settled++)
        {
            var here = _events[_settled];
            if (upTo is { } limit && here.Moment.CompareTo(limit) >= 0) return null;
            var before = _settled == 0 ? _before : _events[_settled - 1].Record.After;
            var asksAgain = !here.Moment.IsRefund && _asked?.Differ(here.AskedAt, before, here.Record.On) == true;
            here.AskedAt = before;
            here.Record.After = before.After(here.Record.On, new ProgressFigures(here.Record.Sales, here.Record.Orders, here.Record.Earned));
            if (!asksAgain) continue;
            _settled++;
            return (here.Record.OrderId, here.Moment);
        }
        return null;
    }

    public IReadOnlyList<ProgressEventRecord> Removed => _removed;

    public IEnumerable<ProgressEventRecord> Kept => _events.Select(e => e.Record);

    private int IndexOf(BookEvents.Moment moment)
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

    private ProgressEventRecord ToRecord(long orderKey, OrderEvent happened, ProgressFigures figures) => new()
    {
        Payee = _track.Payee.Value,
        Agreement = _track.Agreement?.Value ?? "",
        Currency = _currency.Code,
        At = happened.Moment.UtcTicks,
        IsRefund = happened.Moment.IsRefund,
        EventId = happened.Moment.Id,
        OrderId = orderKey,
        On = happened.On,
        Sales = figures.Sales,
        Orders = figures.Orders,
        Earned = figures.Earned,
    };
}
