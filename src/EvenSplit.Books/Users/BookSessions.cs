using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books;

/// <summary>Who is signed in: each sign-in has a row, and its cookie is worth nothing once that is ended.</summary>
public sealed class BookSessions(BookDbContext db, RequestOrigin origin) : IUseCase
{
    /// <summary>After which one signs in again, whatever one does.</summary>
    public static readonly TimeSpan Longest = TimeSpan.FromHours(12);

    /// <param name="isProved">Whether a second factor was shown.</param>
    /// <returns>What the cookie carries.</returns>
    public string Start(string userId, bool isProved = false)
    {
        var session = new SessionRecord { Id = Guid.NewGuid().ToString("N"), UserId = userId, StartedAt = TimeProvider.System.GetUtcNow(), Origin = origin.Text };
        if (isProved) session.ProvedAt = session.StartedAt;
        db.Sessions.Add(session);
        db.SaveChanges();
        return session.Id;
    }

    /// <summary>Null where it is ended, too old, or never was.</summary>
    public SessionRecord? Find(string id)
    {
        var earliest = TimeProvider.System.GetUtcNow() - Longest;
        return db.Sessions.AsNoTracking().FirstOrDefault(s => s.Id == id && s.EndedAt == null && s.StartedAt > earliest);
    }

    /// <summary>Notes that a second factor was shown just now.</summary>
    public void Proved(string id)
    {
        var now = TimeProvider.System.GetUtcNow();
        db.Sessions.Where(s => s.Id == id).ExecuteUpdate(set => set.SetProperty(s => s.ProvedAt, now));
    }

    public IReadOnlyList<SessionRecord> Open()
    {
        var earliest = TimeProvider.System.GetUtcNow() - Longest;
        return db.Sessions.AsNoTracking().Where(s => s.EndedAt == null && s.StartedAt > earliest).OrderBy(s => s.StartedAt).ToArray();
    }

    public void End(string id) => End(db.Sessions.Where(s => s.Id == id));

    /// <param name="but">The session that goes on; null for none.</param>
    public void EndAll(string userId, string? but = null) => End(db.Sessions.Where(s => s.UserId == userId && s.Id != but));

    private static void End(IQueryable<SessionRecord> sessions)
    {
        var now = TimeProvider.System.GetUtcNow();
        sessions.Where(s => s.EndedAt == null).ExecuteUpdate(set => set.SetProperty(s => s.EndedAt, now));
    }
}
