using EvenSplit.Books.Model;

namespace EvenSplit.Books.Keeping;

/// <summary>What a lead decides about the book's safety and about what it keeps.</summary>
/// <param name="ClicksMonths">For how many months clicks are kept; null for ever.</param>
/// <param name="EventsMonths">For how many months events are kept as they came; null for ever.</param>
public sealed record SafetyChoices(bool AsksSecondFactor, int? ClicksMonths, int? EventsMonths);

/// <summary>Keeps those choices, and whether one person works alone.</summary>
public sealed class BookSafety(BookDbContext db, BookCache cache, AuditLog audit) : IUseCase
{
    public const int MostMonths = 240;

    public SafetyChoices Choices => cache.Get(db).Record is var book ? new SafetyChoices(book.AsksSecondFactor, book.KeepClicksMonths, book.KeepEventsMonths) : null!;

    /// <exception cref="RefusedException">A number of months is out of bounds.</exception>
    public void Save(SafetyChoices choices, string by)
    {
        foreach (var (months, field) in new[] { (choices.ClicksMonths, "ClicksMonths"), (choices.EventsMonths, "EventsMonths") })
        {
            if (months is < 1 or > MostMonths) throw new RefusedException($"Give 1 to {MostMonths} months, or nothing to keep them for ever.", field);
        }
        using var transaction = db.Database.BeginTransaction();
        var book = db.Book.Single();
        (book.AsksSecondFactor, book.KeepClicksMonths, book.KeepEventsMonths) = (choices.AsksSecondFactor, choices.ClicksMonths, choices.EventsMonths);
        book.RulesVersion++;
        audit.Note(by, "decide what the book asks and keeps", book.Name);
        db.SaveChanges();
        transaction.Commit();
    }

    /// <summary>Says at the machine itself that one person does everything from here on.</summary>
    /// <exception cref="RefusedException">There is somebody else who could confirm, or nobody who leads.</exception>
    public void WorkAlone(string by)
    {
        using var transaction = db.Database.BeginTransaction();
        var able = db.Users.Where(u => u.EndedAt == null && db.UserRoles.Any(r => r.UserId == u.Id && db.Roles.Any(o => o.Id == r.RoleId && (o.Name == Roles.Lead || o.Name == Roles.Approver)))).Select(u => u.DisplayName).ToArray();
        if (able.Length != 1) throw new RefusedException(able.Length == 0 ? "Nobody leads this book." : $"{string.Join(" and ", able)} can confirm each other's work, so nobody works alone.");
        var book = db.Book.Single();
        book.WorksAlone = true;
        book.RulesVersion++;
        audit.Note($"{by} at the machine", "say that one person works alone", able[0]);
        db.SaveChanges();
        transaction.Commit();
    }
}
