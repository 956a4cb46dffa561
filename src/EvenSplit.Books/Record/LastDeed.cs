using System.Text.Json;
using EvenSplit.Books.Model;
using EvenSplit.Books.Record;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books;

/// <summary>What was done to a thing since somebody opened it, from the record of deeds.</summary>
/// <param name="Changes">Field by field; empty where none is told.</param>
public sealed record DeedSince(string By, DateTimeOffset At, string Action, IReadOnlyList<RecordedChange> Changes);

/// <summary>Tells whether a thing has changed since it was shown.</summary>
public sealed class LastDeed(BookDbContext db) : IUseCase
{
    /// <summary>The number of the last deed about a thing; 0 where there is none.</summary>
    public long Of(string thing) => db.Set<AuditThingRecord>().Where(t => t.Thing == thing).Max(t => (long?)t.AuditId) ?? 0;

    /// <param name="seen">The last deed there was when it was shown.</param>
    public IReadOnlyList<DeedSince> Since(string thing, long seen) => [.. db.Audit.AsNoTracking()
        .Where(a => a.Id > seen && a.Changes != "" && a.Things.Any(t => t.Thing == thing)).OrderBy(a => a.Id).AsEnumerable()
        .Select(a => new DeedSince(a.By, a.At, a.Action, JsonSerializer.Deserialize<RecordedChange[]>(a.Changes) ?? []))];
}
