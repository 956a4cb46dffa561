using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books;

/// <summary>
/// What time it is in the book. A demonstration book has a date of its own that the lead can move forward; any other runs on the machine's clock.
/// </summary>
public sealed class BookClock(BookCache cache, IDbContextFactory<BookDbContext> books) : TimeProvider
{
    /// <summary>Today's date in the book's zone.</summary>
    public DateOnly Today => cache.Find() is { } book ? book.Record.DemoToday ?? book.Time.DateOf(System.GetUtcNow()) : DateOnly.FromDateTime(System.GetUtcNow().UtcDateTime);

    /// <summary>The first day of the month after one, or of the next month where that has come already.</summary>
    public DateOnly NextMonthAfter(Period month) => month.Next.FirstDay is var first && first > Today ? first : Period.Of(Today).Next.FirstDay;

    public override DateTimeOffset GetUtcNow()
    {
        var now = System.GetUtcNow();
        if (cache.Find() is not { Record.DemoToday: { } today } book) return now;
        // The demonstration's date at the real time of day.
        var local = today.ToDateTime(TimeOnly.FromTimeSpan(TimeZoneInfo.ConvertTime(now, book.Time.Zone).TimeOfDay));
        return new DateTimeOffset(local, book.Time.Zone.GetUtcOffset(local)).ToUniversalTime();
    }

    /// <exception cref="RefusedException">The book runs on the real clock, or the date lies in its past.</exception>
    public void MoveTo(DateOnly date)
    {
        using var db = books.CreateDbContext();
        var record = cache.Get(db).Record;
        if (record.DemoToday is not { } today) throw new RefusedException("Only a demonstration book has a clock that can be moved.");
        if (date < today) throw new RefusedException("The clock moves forward only: entries have been posted up to today.");
        db.Book.ExecuteUpdate(set => set.SetProperty(b => b.DemoToday, date));
    }
}
