using EvenSplit.Books.Model;

namespace EvenSplit.Books;

/// <summary>Where a request came from: an address on the network, or this machine for its own work and the command line.</summary>
public sealed class RequestOrigin : IUseCase
{
    public string Text { get; set; } = "this machine";
}

/// <summary>Notes who did what, in the same transaction as the deed. What changed from what to what is added as it is saved.</summary>
public sealed class AuditLog(BookDbContext db, BookClock clock, RequestOrigin origin) : IUseCase
{
    public void Note(string by, string action, string subject) =>
        db.Audit.Add(new AuditRecord { At = clock.GetUtcNow(), By = by, Origin = origin.Text, Action = action, Subject = subject });

    /// <summary>Notes something that changes nothing: that somebody signed in, or took a file.</summary>
    public void NoteAlone(string by, string action, string subject)
    {
        Note(by, action, subject);
        db.SaveChanges();
    }
}
