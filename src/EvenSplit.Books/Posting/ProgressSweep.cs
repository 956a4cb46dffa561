using EvenSplit.Books.Model;
using EvenSplit.Core;

namespace EvenSplit.Books.Posting;

/// <summary>
/// Answers for how far payees had come while orders are worked out in the order of their payments, keeps the tracks up to date, and finds the
/// later orders that must be looked at again because a payee had come further, or less far, than thought.
/// </summary>
/// <param name="tracks">As the book has them.</param>
internal sealed class ProgressSweep(BookDbContext db, KeptTracks tracks)
{
    private static readonly string[] Figures = [nameof(ProgressEventRecord.Sales), nameof(ProgressEventRecord.Orders), nameof(ProgressEventRecord.Earned)];

    /// <summary>Where the events of each order are that this sweep has looked at.</summary>
    private readonly Dictionary<long, List<(KeptTrack Track, BookEvents.Moment Moment, DateOnly On)>> _placed = [];

    private readonly UnquietTracks _unquiet = new();

    /// <summary>How far payees have come before an order. Everything before it must be settled.</summary>
    public IProgressBefore Before(Order order) => new BeforeOrder(order, (track, currency, moment, on) => tracks.Find(track, currency).Before(moment, on));

    /// <summary>How far they had come before it as the book has it, whatever has changed since. May be asked from several threads, while nothing is changed.</summary>
    public IProgressBefore WasBefore(Order order) => new BeforeOrder(order, tracks.WasBefore);

    /// <summary>Takes an order of the book off its tracks until it is worked out, so that it does not find itself among what came before it.</summary>
    public void TakeOff(HeldOrder order) => Replace(order, []);

    /// <summary>Puts what an order adds now in the place of what it added before, whether that is in the book or of this sweep.</summary>
    public void Replace(HeldOrder order, IReadOnlyList<OrderEvent> events)
    {
        var orderKey = order.Record.Id;
        if (!_placed.TryGetValue(orderKey, out var placed)) _placed[orderKey] = placed = [.. order.Events.Select(Place)];
        foreach (var (track, moment, on) in placed)
        {
            track.Remove(moment, on);
            _unquiet.Place(track);
        }
        placed.Clear();
        foreach (var happened in events)
        {
            foreach (var change in happened.Changes)
            {
                var track = tracks.Find(change.Track.Key, change.Track.Currency);
                track.Insert(orderKey, happened, change.Figures);
                _unquiet.Place(track);
                placed.Add((track, happened.Moment, happened.On));
            }
        }
    }

    /// <summary>Orders before a moment (null: at all) that must be looked at again: of each track the earliest, each told once. None where all is settled.</summary>
    public IReadOnlyList<(long OrderKey, BookEvents.Moment Payment)> ToLookAt(BookEvents.Moment? upTo)
    {
        var found = new List<(long OrderKey, BookEvents.Moment Payment)>();
        foreach (var track in _unquiet.Before(upTo))
        {
            if (track.LookOn(upTo) is { } order) found.Add(order);
            _unquiet.Place(track);
        }
        return found;
    }

    /// <param name="alongside">As <see cref="BulkWriter{T}.WriteAll"/> has it.</param>
    public void Save(bool alongside)
    {
        var changes = tracks.Read.Select(t => (Events: t.Events(), Days: t.Days())).ToArray();
        BulkWriter<ProgressEventRecord>.Deleting(db).WriteAll([.. changes.SelectMany(t => t.Events.Gone)], alongside);
        BulkWriter<ProgressEventRecord>.Inserting(db).WriteAll([.. changes.SelectMany(t => t.Events.Come)], alongside);
        BulkWriter<ProgressEventRecord>.Updating(db, Figures).WriteAll([.. changes.SelectMany(t => t.Events.Otherwise)], alongside);
        BulkWriter<ProgressDayRecord>.Deleting(db).WriteAll([.. changes.SelectMany(t => t.Days.Gone)], alongside);
        BulkWriter<ProgressDayRecord>.Replacing(db).WriteAll([.. changes.SelectMany(t => t.Days.Come)], alongside);
        foreach (var track in tracks.Read) track.Saved();
    }

    private (KeptTrack Track, BookEvents.Moment Moment, DateOnly On) Place(ProgressEventRecord e)
    {
        var track = new TrackKey(new PayeeId(e.Payee), e.Agreement.Length == 0 ? null : new AgreementId(e.Agreement));
        return (tracks.Find(track, Currency.Of(e.Currency)), new BookEvents.Moment(e.At, e.IsRefund, e.EventId), e.On);
    }

    private sealed class BeforeOrder(Order order, Func<TrackKey, Currency, BookEvents.Moment, DateOnly, ProgressState> ask) : IProgressBefore
    {
        private readonly BookEvents.Moment _moment = BookEvents.Moment.Of(order);

        public ProgressFigures Of(PayeeId payee, Agreement agreement, ProgressWindow window, DateOnly paidOn) =>
            ask(TrackKey.Of(payee, agreement), agreement.Currency, _moment, paidOn).Highest(window, paidOn);
    }
}
