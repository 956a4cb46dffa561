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
        /// <summary>Whether its row in the book is to be written.</summary>
        public bool IsChanged { get; set; }
    }

    private readonly TrackKey _track;
    private readonly Currency _currency;
    /// <summary>Null where no term asks any more.</summary>
    private readonly ProgressTrack? _asked;
    private readonly ProgressState _before;
    private readonly List<Event> _events = [];
    private readonly Dictionary<BookEvents.Moment, Event> _removed = [];
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

    /// <summary>Takes an event off the track; it must be there.</summary>
    public void Remove(BookEvents.Moment moment)
    {
        var index = IndexOf(moment);
        var held = _events[index];
        if (!held.IsNew) _removed.Add(moment, held);
        _events.RemoveAt(index);
        _settled = Math.Min(_settled, index);
    }

    /// <summary>Puts an event of an order onto the track.</summary>
    public void Insert(long orderKey, OrderEvent happened, ProgressFigures figures)
    {
        var moment = happened.Moment;
        var index = IndexOf(moment);
        var before = index == 0 ? _before : _events[index - 1].Record.After;
        // One that was taken off just now is not written again unless it says something else.
        var isKnown = _removed.Remove(moment, out var was) && Same(was.Record, orderKey, happened.On, figures);
        if (was is not null && !isKnown) _removed.Add(moment, was);
        _settled = Math.Min(_settled, index);
        _events.Insert(index, new Event(moment, isKnown ? was!.Record : ToRecord(orderKey, happened, figures), before) { IsNew = !isKnown, IsChanged = isKnown && was!.IsChanged });
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
            var after = before.After(here.Record.On, new ProgressFigures(here.Record.Sales, here.Record.Orders, here.Record.Earned));
            if (after != here.Record.After) (here.Record.After, here.IsChanged) = (after, true);
            if (!asksAgain) continue;
            _settled++;
            return (here.Record.OrderId, here.Moment);
        }
        return null;
    }

    /// <summary>Rows that are to go; what is to be written may take their place.</summary>
    public IEnumerable<ProgressEventRecord> Removed => _removed.Values.Select(e => e.Record);

    public IEnumerable<ProgressEventRecord> Changed => _events.Where(e => e.IsNew || e.IsChanged).Select(e => e.Record);

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

    private static bool Same(ProgressEventRecord was, long orderKey, DateOnly on, ProgressFigures figures) =>
        was.OrderId == orderKey && was.On == on && was.Sales == figures.Sales && was.Orders == figures.Orders && was.Earned == figures.Earned;

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
