using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Keeping;

/// <summary>
/// Thins out what a book need not keep: clicks older than the lead says (each order has its own copy of those that brought it), and the bodies of events long taken
/// (their ids stay, so that one sent again is still known). No figure of an order follows from either.
/// </summary>
public sealed class Retention(BookDbContext db, BookCache cache, SentForms forms, AuditLog audit) : IUseCase
{
    /// <summary>So many rows at a time, so that nobody waits for it.</summary>
    private const int Portion = 5000;

    /// <returns>How many clicks were removed and how many events emptied.</returns>
    public (int Clicks, int Events) Thin(DateTimeOffset now, CancellationToken stopping)
    {
        if (cache.Find(db)?.Record is not { } book) return (0, 0);
        forms.Thin();
        var clicks = book.KeepClicksMonths is { } months ? Repeat(now.AddMonths(-months), before => db.Clicks.Where(c => db.Clicks.Where(old => old.At < before).OrderBy(old => old.Id).Take(Portion).Select(old => old.Id).Contains(c.Id)).ExecuteDelete(), stopping) : 0;
        var events = book.KeepEventsMonths is { } eventMonths ? Repeat(now.AddMonths(-eventMonths), Empty, stopping) : 0;
        if (clicks + events > 0) audit.NoteAlone("the night", "thin out clicks and events", $"{clicks} clicks removed, {events} events emptied");
        return (clicks, events);
    }

    private int Empty(DateTimeOffset before)
    {
        var empty = Array.Empty<byte>();
        return db.Inbox.Where(e => db.Inbox.Where(old => old.State == EventState.Taken && old.ReceivedAt < before && old.Body != empty).OrderBy(old => old.Id).Take(Portion).Select(old => old.Id).Contains(e.Id))
            .ExecuteUpdate(set => set.SetProperty(e => e.Body, empty));
    }

    private static int Repeat(DateTimeOffset before, Func<DateTimeOffset, int> portion, CancellationToken stopping)
    {
        var (all, done) = (0, 0);
        do
        {
            stopping.ThrowIfCancellationRequested();
            all += done = portion(before);
        }
        while (done == Portion);
        return all;
    }
}
