using EvenSplit.Core;

namespace EvenSplit.Books.Posting;

/// <summary>Tracks on which an order may have to be looked at again, in the order of the moments before which there is none: of thousands of tracks an order moves a few.</summary>
internal sealed class UnquietTracks
{
    private readonly SortedDictionary<(BookEvents.Moment QuietTo, int Number), KeptTrack> _tracks = [];
    private readonly Dictionary<KeptTrack, (BookEvents.Moment QuietTo, int Number)> _places = [];
    /// <summary>Tells apart those that are quiet to the same moment.</summary>
    private int _nextNumber;

    /// <summary>Those that may have something before a moment (null: at all).</summary>
    public IReadOnlyList<KeptTrack> Before(BookEvents.Moment? limit) =>
        [.. _tracks.TakeWhile(t => limit is not { } moment || t.Key.QuietTo.CompareTo(moment) < 0).Select(t => t.Value)];

    /// <summary>Puts a track where it belongs, after something on it has changed or was looked at.</summary>
    public void Place(KeptTrack track)
    {
        if (_places.Remove(track, out var place)) _tracks.Remove(place);
        if (track.QuietTo is not { } quietTo) return;
        place = (quietTo, _nextNumber++);
        _places.Add(track, place);
        _tracks.Add(place, track);
    }
}
