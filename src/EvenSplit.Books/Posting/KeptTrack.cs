using System.Globalization;
using EvenSplit.Books.Model;
using EvenSplit.Core;

namespace EvenSplit.Books.Posting;

/// <summary>
/// One track by its days: as the book has it, and as it is now. Events are read only of days on which one comes, goes or is asked for, or on which
/// a condition turns on another event than before; so a late order costs its day and one row a day since.
/// </summary>
internal sealed class KeptTrack
{
    private static readonly BookEvents.Moment Beginning = new(long.MinValue, false, "");
    private static readonly BookEvents.Moment End = new(long.MaxValue, true, "");

    /// <summary>Events are kept so many days around the last change, for what comes next.</summary>
    private const int DaysKept = 2;

    private readonly BookDbContext _db;
    /// <summary>The day on which something last came or went.</summary>
    private DateOnly _latest;
    private readonly TrackKey _track;
    private readonly Currency _currency;
    /// <summary>Null where no term asks any more.</summary>
    private readonly ProgressTrack? _asked;
    private readonly List<KeptDay> _days = [];
    /// <summary>How the track stood before each day in the book.</summary>
    private readonly List<ProgressState> _was = [default];
    /// <summary>How it stands now before each day from the first that has changed, as far as it was asked for.</summary>
    private readonly List<ProgressState> _now = [];
    /// <summary>Indexes of the first and the last day that has changed.</summary>
    private int _changedFrom = int.MaxValue;
    private int _changedTo = -1;
    /// <summary>The last moment at which nothing is left to look at.</summary>
    private BookEvents.Moment _lookedTo = Beginning;
    /// <summary>Before this moment there is no order to look at, unless something changes.</summary>
    private BookEvents.Moment _quietTo = End;

    public KeptTrack(BookDbContext db, ProgressTracks asked, TrackKey track, Currency currency)
    {
        (_db, _asked, _track, _currency) = (db, asked.Find(track, currency), track, currency);
        foreach (var day in db.DaysOf(track, currency).OrderBy(d => d.On))
        {
            _days.Add(new KeptDay(day.On, day.Span));
            _was.Add(_was[^1].After(day.On, day.Span));
        }
    }

    /// <summary>Before this moment there is no order to look at, unless something changes; null where there is none at all.</summary>
    public BookEvents.Moment? QuietTo => _asked is null || _quietTo == End ? null : _quietTo;

    /// <summary>How the track stands before a moment of a day. Everything before it must be settled.</summary>
    public ProgressState Before(BookEvents.Moment moment, DateOnly on)
    {
        var index = IndexOf(on);
        return IsDay(index, on) ? Now(index).After(on, Read(index).NowBefore(moment)) : Now(index);
    }

    /// <summary>How the track stood in the book before a moment of a day, whatever has changed since.</summary>
    public ProgressState WasBefore(BookEvents.Moment moment, DateOnly on)
    {
        var index = IndexOf(on);
        return IsDay(index, on) ? _was[index].After(on, (_days[index].IsRead ? _days[index] : Read(index)).WasBefore(moment)) : _was[index];
    }

    /// <summary>Whether what stands before moments of a day can be told without reading.</summary>
    public bool IsRead(DateOnly on)
    {
        var index = IndexOf(on);
        return !IsDay(index, on) || _days[index].IsRead;
    }

    /// <summary>Takes an event off the track; it must be there.</summary>
    public void Remove(BookEvents.Moment moment, DateOnly on)
    {
        var index = IndexOf(on);
        Read(index).Remove(moment);
        Changed(index, moment);
    }

    /// <summary>Puts an event of an order that was just worked out onto the track.</summary>
    public void Insert(long orderKey, OrderEvent happened, ProgressFigures figures)
    {
        var index = IndexOf(happened.On);
        if (!IsDay(index, happened.On))
        {
            _days.Insert(index, new KeptDay(happened.On, default));
            _was.Insert(index + 1, _was[index]);
            if (index <= _changedTo) _changedTo++;
        }
        Read(index).Insert(new KeptEvent(happened.Moment, orderKey, figures));
        Changed(index, happened.Moment);
    }

    /// <summary>Looks on, up to a moment (null: to the end), for the next order that must be looked at again because a condition turned.</summary>
    /// <returns>That order and its payment; null where all before the moment is settled.</returns>
    public (long OrderKey, BookEvents.Moment Payment)? LookOn(BookEvents.Moment? upTo)
    {
        var limit = upTo ?? End;
        if (_asked is null || limit.CompareTo(_quietTo) <= 0) return null;
        var found = Find(limit);
        _lookedTo = found?.Payment ?? limit;
        if (found is not null) _quietTo = _lookedTo;
        return found;
    }

    /// <summary>Rows of events that are to go, rows that are to come, which may take their place, and rows that are to say something else.</summary>
    public (IEnumerable<ProgressEventRecord> Gone, IEnumerable<ProgressEventRecord> Come, IEnumerable<ProgressEventRecord> Otherwise) Events()
    {
        var days = ChangedDays().Select(d => (d.On, Differences: d.Differences())).ToArray();
        return (days.SelectMany(d => ToRecords(d.Differences.Gone, d.On)), days.SelectMany(d => ToRecords(d.Differences.Come, d.On)), days.SelectMany(d => ToRecords(d.Differences.Otherwise, d.On)));
    }

    /// <summary>Rows of days that have no events any more, and rows of days that add something else than they did.</summary>
    public (IEnumerable<ProgressDayRecord> Gone, IEnumerable<ProgressDayRecord> Come) Days() =>
        (ChangedDays().Where(d => d.Count == 0).Select(ToRecord), ChangedDays().Where(d => d.Count > 0).Select(ToRecord));

    private IEnumerable<KeptDay> ChangedDays() => _changedTo < 0 ? [] : _days.GetRange(_changedFrom, _changedTo - _changedFrom + 1).Where(d => d.IsChanged);

    /// <summary>What is now is what the book has from here on: for the next portion of long work. Events of days far from where it is are let go.</summary>
    public void Saved()
    {
        for (var index = _changedFrom; index <= _changedTo; index++) _days[index].Saved();
        if (_changedFrom < int.MaxValue)
        {
            // Each day as it is now, without those that are empty.
            _days.RemoveAll(d => d is { IsRead: true, Count: 0 });
            _was.RemoveRange(_changedFrom + 1, _was.Count - _changedFrom - 1);
            foreach (var day in _days.Skip(_changedFrom)) _was.Add(_was[^1].After(day.On, day.Was));
        }
        foreach (var day in _days.Where(d => d.IsRead && Math.Abs(d.On.DayNumber - _latest.DayNumber) > DaysKept)) day.Forget();
        _now.Clear();
        (_changedFrom, _changedTo, _lookedTo, _quietTo) = (int.MaxValue, -1, Beginning, End);
    }

    private (long OrderKey, BookEvents.Moment Payment)? Find(BookEvents.Moment limit)
    {
        var last = Nearby(limit, TimeSpan.TicksPerDay);
        for (var index = Math.Max(_changedFrom, IndexOf(Nearby(_lookedTo, -TimeSpan.TicksPerDay))); index < _days.Count; index++)
        {
            var day = _days[index];
            _quietTo = new BookEvents.Moment(day.On.ToDateTime(TimeOnly.MinValue).Ticks - TimeSpan.TicksPerDay, false, "");
            if (day.On > last) return null;
            var (was, now) = (_was[index], Now(index));
            if (index > _changedTo && _asked!.FindsTheSame(was, now, day.On)) break;
            if (!day.IsChanged && TurnsAlike(day, was, now)) continue;
            Read(index);
            for (var i = day.IndexOf(_lookedTo); i < day.Count; i++)
            {
                var here = day[i];
                if (here.Moment.CompareTo(limit) >= 0)
                {
                    _quietTo = here.Moment;
                    return null;
                }
                if (here.Moment.IsRefund || day.IsSettled(here) || here.Moment == _lookedTo) continue;
                if (_asked!.Differ(was.After(day.On, day.WasBefore(here.Moment)), now.After(day.On, day.NowBefore(here.Moment)), day.On)) return (here.OrderKey, here.Moment);
            }
        }
        _quietTo = End;
        return null;
    }

    /// <summary>The date of a moment in UTC, a day to the safe side for any zone.</summary>
    private static DateOnly Nearby(BookEvents.Moment moment, long ticks) =>
        DateOnly.FromDateTime(new DateTime((long)Int128.Clamp((Int128)moment.UtcTicks + ticks, 0, DateTime.MaxValue.Ticks), DateTimeKind.Utc));

    /// <summary>Whether every order of an unchanged day finds conditions to hold as it did: figures only rise within a window, and none begins or ends within a day.</summary>
    private bool TurnsAlike(KeptDay day, in ProgressState was, in ProgressState now)
    {
        if (_asked!.FindsTheSame(was, now, day.On)) return true;
        if (_asked.Differ(was, now, day.On)) return false;
        var (wasAfter, nowAfter) = (was.After(day.On, day.Was), now.After(day.On, day.Was));
        return !_asked.Differ(was, wasAfter, day.On) && !_asked.Differ(now, nowAfter, day.On);
    }

    private ProgressState Now(int index)
    {
        if (index <= _changedFrom) return _was[index];
        if (_now.Count == 0) _now.Add(_was[_changedFrom]);
        while (_now.Count <= index - _changedFrom)
        {
            var day = _days[_changedFrom + _now.Count - 1];
            _now.Add(_now[^1].After(day.On, day.Now));
        }
        return _now[index - _changedFrom];
    }

    private void Changed(int index, BookEvents.Moment moment)
    {
        if (moment.CompareTo(_quietTo) < 0) _quietTo = moment;
        if (index < _changedFrom) _now.Clear();
        else if (_now.Count > index - _changedFrom + 1) _now.RemoveRange(index - _changedFrom + 1, _now.Count - (index - _changedFrom) - 1);
        (_changedFrom, _changedTo) = (Math.Min(_changedFrom, index), Math.Max(_changedTo, index));
        _latest = _days[index].On;
    }

    private KeptDay Read(int index)
    {
        var day = _days[index];
        if (day.IsRead) return day;
        var (payee, agreement, currency) = (_track.Payee.Value, _track.Agreement?.Value ?? "", _currency.Code);
        var midnight = day.On.ToDateTime(TimeOnly.MinValue).Ticks;
        // The instants a date can have in any zone.
        var (from, to) = (midnight - TimeSpan.TicksPerDay, midnight + (2 * TimeSpan.TicksPerDay));
        day.Read(BulkReader<ProgressEventRecord>.Where(
            _db, "Payee = ? AND Agreement = ? AND Currency = ? AND At >= ? AND At < ? AND \"On\" = ?", "At, IsRefund, EventId", payee, agreement, currency, from, to, day.On.ToString("O", CultureInfo.InvariantCulture)));
        return day;
    }

    private bool IsDay(int index, DateOnly on) => index < _days.Count && _days[index].On == on;

    /// <returns>Where the first day on or after a date stands.</returns>
    private int IndexOf(DateOnly on)
    {
        var (low, high) = (0, _days.Count);
        while (low < high)
        {
            var middle = (low + high) / 2;
            if (_days[middle].On < on) low = middle + 1;
            else high = middle;
        }
        return low;
    }

    private IEnumerable<ProgressEventRecord> ToRecords(IEnumerable<KeptEvent> events, DateOnly on) => events.Select(one => new ProgressEventRecord
    {
        Payee = _track.Payee.Value,
        Agreement = _track.Agreement?.Value ?? "",
        Currency = _currency.Code,
        At = one.Moment.UtcTicks,
        IsRefund = one.Moment.IsRefund,
        EventId = one.Moment.Id,
        OrderId = one.OrderKey,
        On = on,
        Sales = one.Figures.Sales,
        Orders = one.Figures.Orders,
        Earned = one.Figures.Earned,
    });

    private ProgressDayRecord ToRecord(KeptDay day) => new()
    {
        Payee = _track.Payee.Value,
        Agreement = _track.Agreement?.Value ?? "",
        Currency = _currency.Code,
        On = day.On,
        Span = day.Now,
    };
}
