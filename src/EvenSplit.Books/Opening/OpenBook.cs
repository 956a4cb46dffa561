using EvenSplit.Books.Model;
using EvenSplit.Core;

namespace EvenSplit.Books;

/// <summary>Opens a new book: once, before anything else.</summary>
public sealed class OpenBook(BookDbContext db, AuditLog audit) : IUseCase
{
    public bool IsOpen => db.Book.Any();

    /// <param name="demoToday">The date a demonstration book starts at; null for a real one.</param>
    /// <param name="asksSecondFactor">Whether leads and approvers must have one.</param>
    /// <param name="worksAlone">Whether there is nobody else who could confirm or approve.</param>
    /// <exception cref="RefusedException">The book is open already, or the currency or time zone is not known.</exception>
    public void Open(string name, string currency, string timeZone, string by, DateOnly? demoToday = null,
        ClickModel clickModel = ClickModel.Last, bool allowSelfReferral = false, bool asksSecondFactor = false, bool worksAlone = false)
    {
        if (IsOpen) throw new RefusedException("This book is open already.");
        if (string.IsNullOrWhiteSpace(name)) throw new RefusedException("Give the book the name of your business.", "BookName");
        if (!Currency.TryOf(currency, out _)) throw new RefusedException($"'{currency}' is not a currency code; choose one, such as EUR.", "Currency");
        if (!TimeZoneInfo.TryFindSystemTimeZoneById(timeZone, out _)) throw new RefusedException($"'{timeZone}' is not a time zone; choose one, such as Europe/Dublin.", "TimeZone");
        db.Book.Add(new BookRecord { Name = name.Trim(), Currency = currency, TimeZone = timeZone, DemoToday = demoToday, ClickModel = clickModel, AllowSelfReferral = allowSelfReferral, AsksSecondFactor = asksSecondFactor, WorksAlone = worksAlone });
        db.SaveChanges();
        audit.Note(by, "open the book", name);
        db.SaveChanges();
    }
}
