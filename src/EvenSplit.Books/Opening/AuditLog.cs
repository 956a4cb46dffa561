using EvenSplit.Books.Model;

namespace EvenSplit.Books;

/// <summary>Notes who did what, in the same transaction as the deed.</summary>
public sealed class AuditLog(BookDbContext db, BookClock clock) : IUseCase
{
    public void Note(string by, string action, string subject) =>
        db.Audit.Add(new AuditRecord { At = clock.GetUtcNow(), By = by, Action = action, Subject = subject });
}
