using System.Collections.Concurrent;
using EvenSplit.Books.Model;
using EvenSplit.Core;

namespace EvenSplit.Books.Posting;

/// <summary>The tracks of a book that were read so far. Long work keeps them from one portion to the next, as long as nobody else writes in between.</summary>
internal sealed class KeptTracks(BookDbContext db, ProgressTracks asked)
{
    private readonly ConcurrentDictionary<(TrackKey Track, Currency Currency), KeptTrack> _tracks = [];
    private readonly List<KeptTrack> _read = [];
    /// <summary>What the book has is read by one thread at a time.</summary>
    private readonly Lock _reading = new();

    public IReadOnlyList<KeptTrack> Read => _read;

    /// <summary>How a track stood in the book before a moment of a day. May be asked from several threads while nothing is changed.</summary>
    public ProgressState WasBefore(TrackKey track, Currency currency, BookEvents.Moment moment, DateOnly on)
    {
        if (_tracks.TryGetValue((track, currency), out var known) && known.IsRead(on)) return known.WasBefore(moment, on);
        lock (_reading) return Find(track, currency).WasBefore(moment, on);
    }

    public KeptTrack Find(TrackKey track, Currency currency)
    {
        if (_tracks.TryGetValue((track, currency), out var known)) return known;
        var kept = new KeptTrack(db, asked, track, currency);
        _read.Add(kept);
        return _tracks[(track, currency)] = kept;
    }
}
