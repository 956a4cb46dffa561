using EvenSplit.Books.Model;
using EvenSplit.Books.Posting;
using EvenSplit.Formats.Events;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Importing;

/// <summary>An event on its way into the inbox.</summary>
public sealed record ReceivedEvent(string EventId, string Source, SalesEvent Event, ReadOnlyMemory<byte> Body, DateTimeOffset ReceivedAt);

/// <summary>Stores events as they come, and tells what became of them.</summary>
public sealed class Inbox(BookDbContext db, AuditLog audit) : IUseCase
{
    private const int MostShown = 200;

    /// <summary>Stores events that are not known yet, all in one transaction: when this returns they are on disk.</summary>
    public void Store(IReadOnlyList<ReceivedEvent> events)
    {
        using var transaction = db.BeginUnlessBegun();
        var ids = events.Select(e => e.EventId).ToArray();
        // Each source names its events; what one calls them says nothing of another's.
        var known = db.Inbox.AsNoTracking().Where(e => ids.Contains(e.EventId)).Select(e => new { e.Source, e.EventId }).AsEnumerable().Select(e => (e.Source, e.EventId)).ToHashSet();
        var next = (db.Inbox.Max(e => (long?)e.Id) ?? 0) + 1;
        using (var writer = BulkWriter<InboxEventRecord>.Inserting(db))
        {
            writer.Write(events.Where(e => known.Add((e.Source, e.EventId))).Select(e => new InboxEventRecord
            {
                Id = next++,
                EventId = e.EventId,
                Source = e.Source,
                Kind = e.Event.Kind,
                Order = e.Event.Order,
                Body = e.Body.ToArray(),
                ReceivedAt = e.ReceivedAt,
            }));
        }
        transaction?.Commit();
    }

    /// <summary>How many events there are in each state; what was taken is not counted.</summary>
    public IReadOnlyDictionary<EventState, int> Waiting() =>
        db.Inbox.Where(e => e.State != EventState.Taken).GroupBy(e => e.State).Select(g => new { g.Key, Count = g.Count() }).ToDictionary(g => g.Key, g => g.Count);

    /// <summary>Events that are not taken, the latest first.</summary>
    public IReadOnlyList<InboxEventRecord> NotTaken() =>
        db.Inbox.AsNoTracking().Where(e => e.State != EventState.Taken).OrderByDescending(e => e.Id).Take(MostShown).ToArray();

    /// <summary>The last events of all.</summary>
    public IReadOnlyList<InboxEventRecord> Latest() => db.Inbox.AsNoTracking().OrderByDescending(e => e.Id).Take(MostShown / 4).ToArray();

    /// <summary>Puts an event back into the queue.</summary>
    /// <exception cref="RefusedException">It is taken, or its rows wait in quarantine, where they are corrected.</exception>
    public void SendAgain(long id, string by)
    {
        var record = db.Inbox.Known(e => e.Id == id);
        if (record.State is not (EventState.Failed or EventState.WaitsForOrder)) throw new RefusedException("Only an event that failed or waits for its order can be sent again; what is in quarantine is corrected there.");
        (record.State, record.Fault) = (EventState.Waiting, null);
        audit.Note(by, "send event again", record.EventId);
        db.SaveChanges();
    }
}
