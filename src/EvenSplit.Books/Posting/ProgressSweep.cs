using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Posting;

/// <summary>
/// Answers for how far payees had come while orders are worked out in the order of their payments, keeps the tracks up to date, and finds the
/// later orders that must be looked at again because a payee had come further, or less far, than thought.
/// </summary>
/// <param name="fromUtcTicks">No event before it changes.</param>
internal sealed class ProgressSweep(BookDbContext db, OpenedBook book, long fromUtcTicks) : IProgressBefore
{
    private readonly Dictionary<(TrackKey Track, Currency Currency), KeptTrack> _tracks = [];
    /// <summary>Where the events of each order are that this sweep has looked at.</summary>
    private readonly Dictionary<long, List<(KeptTrack Track, BookEvents.Moment Moment)>> _placed = [];
    private BookEvents.Moment _now;

    /// <summary>Says which order is worked out next.</summary>
    public void MoveTo(Order order) => _now = BookEvents.Moment.Of(order);

    public ProgressFigures Of(PayeeId payee, Agreement agreement, ProgressWindow window, DateOnly paidOn) =>
        Track(TrackKey.Of(payee, agreement), agreement.Currency).Before(_now).Highest(window, paidOn);

    /// <summary>Takes orders of the book off their tracks until they are worked out, so that none finds itself among what came before it.</summary>
    public void TakeOff(IReadOnlyCollection<long> orderKeys)
    {
        foreach (var key in orderKeys) _placed[key] = [];
        foreach (var (key, track, moment) in Held(orderKeys)) _placed[key].Add((track, moment));
        foreach (var key in orderKeys) Replace(key, []);
    }

    /// <summary>Says that an order is only now coming into the book and is on no track.</summary>
    public void IsNew(long orderKey) => _placed[orderKey] = [];

    /// <summary>Puts what an order adds now in the place of what it added before, whether that is in the book or of this sweep.</summary>
    public void Replace(long orderKey, IReadOnlyList<OrderEvent> events)
    {
        if (!_placed.TryGetValue(orderKey, out var placed)) _placed[orderKey] = placed = [.. Held([orderKey]).Select(h => (h.Track, h.Moment))];
        foreach (var (track, moment) in placed) track.Remove(moment);
        placed.Clear();
        foreach (var happened in events)
        {
            foreach (var change in happened.Changes)
            {
                var track = Track(change.Track.Key, change.Track.Currency);
                track.Insert(orderKey, happened, change.Figures);
                placed.Add((track, happened.Moment));
            }
        }
    }

    /// <summary>Orders before a moment (null: at all) that must be looked at again: of each track the earliest, each told once. None where all is settled.</summary>
    public IReadOnlyList<(long OrderKey, BookEvents.Moment Payment)> ToLookAt(BookEvents.Moment? upTo)
    {
        var found = new List<(long OrderKey, BookEvents.Moment Payment)>();
        foreach (var track in _tracks.Values)
        {
            if (track.Settle(upTo) is { } order) found.Add(order);
        }
        return found;
    }

    public void Save()
    {
        foreach (var removed in _tracks.Values.SelectMany(t => t.Removed)) db.ProgressEvents.Remove(removed);
        db.SaveChanges();
        using var writer = new BulkWriter<ProgressEventRecord>(db, replace: true);
        writer.Write(_tracks.Values.SelectMany(t => t.Changed));
    }

    /// <summary>The events that orders have in the book.</summary>
    private List<(long OrderKey, KeptTrack Track, BookEvents.Moment Moment)> Held(IReadOnlyCollection<long> orderKeys) =>
        [.. db.ProgressEvents.AsNoTracking().Where(e => orderKeys.Contains(e.OrderId))
            .Select(e => new { e.OrderId, e.Payee, e.Agreement, e.Currency, e.At, e.IsRefund, e.EventId }).AsEnumerable()
            .Select(e => (
                e.OrderId, Track(new TrackKey(new PayeeId(e.Payee), e.Agreement.Length == 0 ? null : new AgreementId(e.Agreement)), Currency.Of(e.Currency)),
                new BookEvents.Moment(e.At, e.IsRefund, e.EventId)))];

    private KeptTrack Track(TrackKey track, Currency currency)
    {
        if (!_tracks.TryGetValue((track, currency), out var kept))
        {
            _tracks[(track, currency)] = kept = new KeptTrack(db, book.Progress, track, currency, fromUtcTicks);
        }
        return kept;
    }
}
