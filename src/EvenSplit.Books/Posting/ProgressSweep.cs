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
    private BookEvents.Moment _now;

    /// <summary>Says which order is worked out next.</summary>
    public void MoveTo(Order order) => _now = BookEvents.Moment.Of(order);

    public ProgressFigures Of(PayeeId payee, Agreement agreement, ProgressWindow window, DateOnly paidOn) =>
        Track(TrackKey.Of(payee, agreement), agreement.Currency).Before(_now).Highest(window, paidOn);

    /// <summary>Puts what an order adds now in the place of what it added before.</summary>
    public void Replace(long orderKey, bool isHeld, IReadOnlyList<OrderEvent> events)
    {
        var changes = events.SelectMany(e => e.Changes.Select(c => (Event: e, Change: c))).ToLookup(c => (c.Change.Track.Key, c.Change.Track.Currency), c => (c.Event, c.Change.Figures));
        var touched = changes.Select(c => c.Key).ToHashSet();
        if (isHeld) touched.UnionWith(Held(orderKey));
        foreach (var (track, currency) in touched) Track(track, currency).Replace(orderKey, changes[(track, currency)].ToArray());
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
        writer.Write(_tracks.Values.SelectMany(t => t.Kept));
    }

    private IEnumerable<(TrackKey Track, Currency Currency)> Held(long orderKey) => db.ProgressEvents.AsNoTracking().Where(e => e.OrderId == orderKey)
        .Select(e => new { e.Payee, e.Agreement, e.Currency }).Distinct().AsEnumerable()
        .Select(e => (new TrackKey(new PayeeId(e.Payee), e.Agreement.Length == 0 ? null : new AgreementId(e.Agreement)), Currency.Of(e.Currency)));

    private KeptTrack Track(TrackKey track, Currency currency)
    {
        if (!_tracks.TryGetValue((track, currency), out var kept))
        {
            _tracks[(track, currency)] = kept = new KeptTrack(db, book.Progress, track, currency, fromUtcTicks);
        }
        return kept;
    }
}
