using System.Runtime.InteropServices;

namespace EvenSplit.Core;

/// <summary>
/// Follows every track that is asked for, event by event. Events must come in the order of their instants, a payment before a refund
/// at the same instant, then ids. May be asked from several threads while nothing is counted.
/// </summary>
internal sealed class ProgressBook(ProgressTracks tracks) : IProgressBefore
{
    private struct Kept
    {
        public ProgressState State;
        /// <summary>The stretch in which a condition last began or ceased to hold.</summary>
        public int MovedIn;
    }

    private readonly Kept[] _kept = new Kept[tracks.All.Count];
    private int _stretch;
    private IReadOnlyList<EarlierEvent> _since = [];
    /// <summary>How many of them are counted.</summary>
    private int _countedSince;

    public ProgressFigures Of(PayeeId payee, Agreement agreement, ProgressWindow window, DateOnly paidOn) =>
        tracks.Find(TrackKey.Of(payee, agreement), agreement.Currency) is { } track ? _kept[track.Number].State.Highest(window, paidOn) : default;

    /// <summary>Takes up what orders have added that are not followed here.</summary>
    public void BeginFrom(EarlierProgress earlier)
    {
        foreach (var (track, state) in earlier.Before) _kept[track.Number].State = state;
        _since = earlier.Since;
    }

    /// <summary>Counts what those orders added before a moment.</summary>
    public void CountEarlier(BookEvents.Moment moment)
    {
        for (; _countedSince < _since.Count && _since[_countedSince].Moment.CompareTo(moment) < 0; _countedSince++)
        {
            foreach (var change in _since[_countedSince].Changes) Count(_since[_countedSince].On, change);
        }
    }

    public void BeginStretch() => _stretch++;

    /// <summary>
    /// Whether for some of the tracks a condition has begun or ceased to hold within the stretch. Where none has, what was chosen by how they
    /// stood when it began is what would be chosen now: within a window figures only rise, and a new window begins from nothing.
    /// </summary>
    public bool HasMoved(List<ProgressChange> changes)
    {
        foreach (ref readonly var change in CollectionsMarshal.AsSpan(changes))
        {
            if (_kept[change.Track.Number].MovedIn == _stretch) return true;
        }
        return false;
    }

    /// <summary>Counts what one event adds to the tracks.</summary>
    /// <param name="on">The event's date in the book's zone.</param>
    public void Count(DateOnly on, List<ProgressChange> changes)
    {
        foreach (ref readonly var change in CollectionsMarshal.AsSpan(changes)) Count(on, change);
    }

    private void Count(DateOnly on, in ProgressChange change)
    {
        ref var kept = ref _kept[change.Track.Number];
        var after = kept.State.After(on, change.Figures);
        if (kept.MovedIn != _stretch && change.Track.Differ(kept.State, after, on)) kept.MovedIn = _stretch;
        kept.State = after;
    }
}
