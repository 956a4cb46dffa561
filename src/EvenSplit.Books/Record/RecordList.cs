using System.Text.Json;
using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Record;

/// <summary>Which rows of the record to show; empty or null for any.</summary>
/// <param name="Thing">Kind and id, as payee:anna or run:3.</param>
/// <param name="From">First and last day, in the book's zone.</param>
/// <param name="Before">Where the page before ended; null for the first page.</param>
public sealed record RecordFilter(string By, string Thing, DateOnly? From, DateOnly? To, long? Before);

/// <summary>A row of the record with what it changed.</summary>
public sealed record RecordRow(long Id, DateTimeOffset At, string By, string Origin, string Action, string Subject, IReadOnlyList<RecordedChange> Changes, IReadOnlyList<string> Things);

/// <summary>Reads the record, the latest first: by person, by thing, by time.</summary>
public sealed class RecordList(BookDbContext db, BookCache cache) : IUseCase
{
    public const int PageSize = 100;

    /// <returns>A page of rows, and where the next begins; null where there is none.</returns>
    public (IReadOnlyList<RecordRow> Rows, long? Next) Find(RecordFilter filter)
    {
        var rows = Read(Matching(filter).OrderByDescending(a => a.Id).Take(PageSize + 1)).ToArray();
        return (rows.Take(PageSize).ToArray(), rows.Length > PageSize ? rows[PageSize - 1].Id : null);
    }

    /// <summary>Every matching row, the oldest first: for files.</summary>
    public IEnumerable<RecordRow> All(RecordFilter filter) => Read(Matching(filter with { Before = null }).OrderBy(a => a.Id));

    /// <summary>Everybody the record names.</summary>
    public IReadOnlyList<string> People() => [.. db.Audit.Select(a => a.By).Distinct().OrderBy(b => b)];

    private IQueryable<AuditRecord> Matching(RecordFilter filter)
    {
        var rows = db.Audit.AsNoTracking();
        if (filter.By.Length > 0) rows = rows.Where(a => a.By == filter.By);
        if (filter.Thing.Length > 0) rows = rows.Where(a => db.Set<AuditThingRecord>().Any(t => t.Thing == filter.Thing && t.AuditId == a.Id));
        if (filter.From is { } from)
        {
            var start = StartOf(from);
            rows = rows.Where(a => a.At >= start);
        }
        if (filter.To is { } to && to < DateOnly.MaxValue)
        {
            var end = StartOf(to.AddDays(1));
            rows = rows.Where(a => a.At < end);
        }
        if (filter.Before is { } before) rows = rows.Where(a => a.Id < before);
        return rows;
    }

    private static IEnumerable<RecordRow> Read(IQueryable<AuditRecord> rows) => rows.Include(a => a.Things).AsEnumerable().Select(a => new RecordRow(
        a.Id, a.At, a.By, a.Origin, a.Action, a.Subject, a.Changes.Length == 0 ? [] : JsonSerializer.Deserialize<RecordedChange[]>(a.Changes)!, [.. a.Things.Select(t => t.Thing).Order(StringComparer.Ordinal)]));

    private DateTimeOffset StartOf(DateOnly date)
    {
        var midnight = date.ToDateTime(TimeOnly.MinValue);
        var zone = cache.Get(db).Time.Zone;
        // A midnight that the clock leaps over has no offset of its own; the hour before it has.
        return new DateTimeOffset(midnight, zone.GetUtcOffset(zone.IsInvalidTime(midnight) ? midnight.AddHours(-1) : midnight));
    }
}
