using EvenSplit.Books.Model;
using EvenSplit.Core;

namespace EvenSplit.Books.Posting;

/// <summary>
/// Answers for how far payees had come while orders are worked out in the order of their payments, keeps the tracks up to date, and finds the
/// later orders that must be looked at again because a payee had come further, or less far, than thought.
/// </summary>
internal sealed class ProgressSweep(BookDbContext db, OpenedBook book)
{
    private readonly Dictionary<(TrackKey Track, Currency Currency), KeptTrack> _tracks = [];
    /// <summary>Where the events of each order are that this sweep has looked at.</summary>
    private readonly Dictionary<long, List<(KeptTrack Track, BookEvents.Moment Moment, DateOnly On)>> _placed = [];
    /// <summary>What the book has is read by whichever thread first asks for it.</summary>
    private readonly Lock _reading = new();

    /// <summary>How far payees have come before an order. Everything before it must be settled.</summary>
    public IProgressBefore Before(Order order) => new BeforeOrder(BookEvents.Moment.Of(order), (track, moment, on) => track.Before(moment, on), this);

    /// <summary>How far they had come before it as the book has it, whatever has changed since. May be asked from several threads, while nothing is changed.</summary>
    public IProgressBefore WasBefore(Order order) => new BeforeOrder(BookEvents.Moment.Of(order), (track, moment, on) => track.WasBefore(moment, on), this);

    /// <summary>Takes orders of the book off their tracks until they are worked out, so that none finds itself among what came before it.</summary>
    public void TakeOff(IReadOnlyCollection<long> orderKeys)
    {
        foreach (var key in orderKeys) _placed[key] = [];
        foreach (var (key, track, moment, on) in Held(orderKeys)) _placed[key].Add((track, moment, on));
        foreach (var key in orderKeys) Replace(key, []);
    }

    /// <summary>Says that an order is only now coming into the book and is on no track.</summary>
    public void IsNew(long orderKey) => _placed[orderKey] = [];

    /// <summary>Puts what an order adds now in the place of what it added before, whether that is in the book or of this sweep.</summary>
    public void Replace(long orderKey, IReadOnlyList<OrderEvent> events)
    {
        if (!_placed.TryGetValue(orderKey, out var placed)) _placed[orderKey] = placed = [.. Held([orderKey]).Select(h => (h.Track, h.Moment, h.On))];
        foreach (var (track, moment, on) in placed) track.Remove(moment, on);
        placed.Clear();
        foreach (var happened in events)
        {
            foreach (var change in happened.Changes)
            {
                var track = Track(change.Track.Key, change.Track.Currency);
                track.Insert(orderKey, happened, change.Figures);
                placed.Add((track, happened.Moment, happened.On));
            }
        }
    }

    /// <summary>Orders before a moment (null: at all) that must be looked at again: of each track the earliest, each told once. None where all is settled.</summary>
    public IReadOnlyList<(long OrderKey, BookEvents.Moment Payment)> ToLookAt(BookEvents.Moment? upTo)
    {
        var found = new List<(long OrderKey, BookEvents.Moment Payment)>();
        foreach (var track in _tracks.Values)
        {
            if (track.LookOn(upTo) is { } order) found.Add(order);
        }
        return found;
    }

    public void Save()
    {
        var tracks = _tracks.Values.Select(t => (Events: t.Events(), Days: t.Days())).ToArray();
        Save(BulkWriter<ProgressEventRecord>.Deleting(db), tracks.SelectMany(t => t.Events.Gone));
        Save(BulkWriter<ProgressEventRecord>.Inserting(db), tracks.SelectMany(t => t.Events.Come));
        Save(BulkWriter<ProgressDayRecord>.Deleting(db), tracks.SelectMany(t => t.Days.Gone));
        Save(BulkWriter<ProgressDayRecord>.Replacing(db), tracks.SelectMany(t => t.Days.Come));
    }

    private static void Save<T>(BulkWriter<T> writer, IEnumerable<T> rows) where T : class
    {
        using (writer) writer.Write(rows);
    }

    /// <summary>The events that orders have in the book.</summary>
    private List<(long OrderKey, KeptTrack Track, BookEvents.Moment Moment, DateOnly On)> Held(IReadOnlyCollection<long> orderKeys) =>
        [.. BulkReader<ProgressEventRecord>.Read(db, "OrderId", orderKeys, "OrderId").ToArray().Select(e => (
            e.OrderId, Track(new TrackKey(new PayeeId(e.Payee), e.Agreement.Length == 0 ? null : new AgreementId(e.Agreement)), Currency.Of(e.Currency)),
            new BookEvents.Moment(e.At, e.IsRefund, e.EventId), e.On))];

    private KeptTrack Track(TrackKey track, Currency currency)
    {
        if (!_tracks.TryGetValue((track, currency), out var kept)) _tracks[(track, currency)] = kept = new KeptTrack(db, book.Progress, track, currency);
        return kept;
    }

    private sealed class BeforeOrder(BookEvents.Moment moment, Func<KeptTrack, BookEvents.Moment, DateOnly, ProgressState> ask, ProgressSweep sweep) : IProgressBefore
    {
        public ProgressFigures Of(PayeeId payee, Agreement agreement, ProgressWindow window, DateOnly paidOn)
        {
            lock (sweep._reading)
            {
                return ask(sweep.Track(TrackKey.Of(payee, agreement), agreement.Currency), moment, paidOn).Highest(window, paidOn);
            }
        }
    }
}
