using EvenSplit.Books.Model;
using EvenSplit.Books.Posting;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Ledger;

public enum EntryKindFilter { Any, Earnings, Reversals }

/// <summary>Which entries to show: of a month, of a payee, or both.</summary>
/// <param name="After">Where the page before ended; null for the first page.</param>
public sealed record EntryFilter(Period? Period, PayeeRole? Role, string Payee, EntryKindFilter Kind, (DateOnly PostedOn, long Id)? After);

public sealed record EntryRow(
    long Id, DateOnly PostedOn, string OrderId, string Product, string PayeeId, string Payee, string Agreement, EntryPart Part, bool IsReversal, DateOnly? ClearsOn, int? RunId, Money Amount, bool IsHeldBack)
{
    /// <summary>Why it was posted, where no sale or refund caused it; else null.</summary>
    public string? Why { get; init; }

    public required string AgreementId { get; init; }
}

public sealed record EntryPage(IReadOnlyList<EntryRow> Rows, IReadOnlyList<Money> Totals, long Count, (DateOnly PostedOn, long Id)? Next);

/// <summary>Lists posted entries, the latest first, a page at a time: the ledger behind every balance.</summary>
public sealed class EntryList(BookDbContext db, BookCache cache) : IUseCase
{
    public const int PageSize = 100;
    /// <summary>So many are put in order at once; of more, a page is soon found by going through the month.</summary>
    private const int Few = 10_000;

    public EntryPage Find(EntryFilter filter)
    {
        var sums = MatchingSums(filter).GroupBy(s => s.Currency).Select(g => new { g.Key, Sum = g.Sum(s => s.Amount), Count = g.Sum(s => s.Entries) }).ToArray();
        var count = sums.Sum(s => s.Count);
        // Reversals have an index of their own.
        var isByPayees = count <= Few && filter.Kind != EntryKindFilter.Reversals && (filter.Role is not null || filter.Payee.Length > 0);
        var matching = Matching(filter, isByPayees);
        var page = filter.After is { } after ? matching.Where(e => e.PostedOn < after.PostedOn || (e.PostedOn == after.PostedOn && e.Id < after.Id)) : matching;
        var rows = Rows(page.OrderByDescending(e => e.PostedOn).ThenByDescending(e => e.Id).Take(PageSize + 1));
        return new EntryPage(
            rows.Take(PageSize).ToArray(),
            sums.OrderBy(s => s.Key, StringComparer.Ordinal).Select(s => new Money(s.Sum, Currency.Of(s.Key))).ToArray(),
            count,
            rows.Length > PageSize ? (rows[PageSize - 1].PostedOn, rows[PageSize - 1].Id) : null);
    }

    /// <summary>Every matching entry, the oldest first: for files.</summary>
    public IEnumerable<EntryRow> All(EntryFilter filter) => Rows(Matching(filter, isByPayees: false).OrderBy(e => e.Id));

    /// <param name="isByPayees">Whether a month's are found by their payees and days: a page of few would be looked for among all entries of the month.</param>
    private IQueryable<EntryRecord> Matching(EntryFilter filter, bool isByPayees)
    {
        var entries = db.Entries.AsNoTracking();
        if (filter.Period is { } period) entries = isByPayees ? entries.Where(e => e.PostedOn >= period.FirstDay && e.PostedOn <= period.LastDay) : entries.Where(e => e.Period == period.Number);
        if (filter.Payee.Length > 0) entries = entries.Where(e => e.Payee == filter.Payee);
        if (PayeesOf(filter.Role) is { } payees) entries = entries.Where(e => payees.Contains(e.Payee));
        return filter.Kind switch
        {
            EntryKindFilter.Earnings => entries.Where(e => e.RefundId == null),
            EntryKindFilter.Reversals => entries.Where(e => e.RefundId != null),
            _ => entries,
        };
    }

    /// <summary>The kept sums of just the entries that match.</summary>
    private IQueryable<EntrySumRecord> MatchingSums(EntryFilter filter)
    {
        var sums = db.EntrySums.AsNoTracking();
        if (filter.Period is { } period) sums = sums.Where(s => s.Period == period.Number);
        if (filter.Payee.Length > 0) sums = sums.Where(s => s.Payee == filter.Payee);
        if (PayeesOf(filter.Role) is { } payees) sums = sums.Where(s => payees.Contains(s.Payee));
        return filter.Kind == EntryKindFilter.Any ? sums : sums.Where(s => s.IsReversal == (filter.Kind == EntryKindFilter.Reversals));
    }

    private string[]? PayeesOf(PayeeRole? role) =>
        role is null ? null : cache.Get(db).Rules.Payees.Where(p => p.Role == role).Select(p => p.Id.Value).ToArray();

    private EntryRow[] Rows(IQueryable<EntryRecord> entries)
    {
        var book = cache.Get(db);
        var read = entries
            .Select(e => new
            {
                Entry = e,
                db.Orders.First(o => o.Id == e.OrderId).OrderId,
                db.OrderLines.First(l => l.OrderId == e.OrderId && l.Number == e.LineNumber).Product,
            })
            .ToArray();
        var heldBack = HeldLines.Of(db, [.. read.Where(e => e.Entry.ClearsOn is null).Select(e => e.Entry.OrderId).Distinct()]);
        var (first, last) = (read.Select(e => e.Entry.Id).DefaultIfEmpty().Min(), read.Select(e => e.Entry.Id).DefaultIfEmpty().Max());
        var causes = db.PostingCauses.AsNoTracking().Where(c => c.LastEntry >= first && c.FirstEntry <= last).ToArray();
        return read.Select(e => new EntryRow(
                e.Entry.Id, e.Entry.PostedOn, e.OrderId, book.ProductName(e.Product), e.Entry.Payee, book.PayeeName(e.Entry.Payee), book.AgreementName(e.Entry.Agreement),
                e.Entry.Part, e.Entry.RefundId is not null, e.Entry.ClearsOn, e.Entry.RunId, new Money(e.Entry.Amount, Currency.Of(e.Entry.Currency)), e.Entry.ClearsOn is null && heldBack.Contains((e.Entry.OrderId, e.Entry.LineNumber, e.Entry.Payee, e.Entry.Agreement)))
        {
            AgreementId = e.Entry.Agreement,
            Why = causes.FirstOrDefault(c => c.FirstEntry <= e.Entry.Id && e.Entry.Id <= c.LastEntry) is { } cause ? $"{cause.Words}, by {cause.By}, {book.Local(cause.At)}" : null,
        })
            .ToArray();
    }
}
