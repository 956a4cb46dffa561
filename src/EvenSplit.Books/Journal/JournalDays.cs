using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Journal;

/// <summary>What sales put into an account over some days; minor units.</summary>
/// <param name="Of">The account of bookings; of entries the payee.</param>
internal sealed record DaysSum(SealedKind Kind, string Of, string Currency, long Debit, long Credit, long Postings);

/// <summary>Reads the kept sums of what bookings and entries come to by day.</summary>
public sealed class JournalDays(BookDbContext db) : IUseCase
{
    /// <summary>What is dated in a span of days, both included; null for no bound.</summary>
    internal IReadOnlyList<DaysSum> Between(DateOnly? from, DateOnly? to) =>
    [
        .. Within(from, to).GroupBy(d => new { d.Kind, d.Of, d.Currency })
            .Select(g => new DaysSum(g.Key.Kind, g.Key.Of, g.Key.Currency, g.Sum(d => d.Debit), g.Sum(d => d.Credit), g.Sum(d => d.Postings))),
    ];

    /// <summary>On which days anything of some accounts, or of some payees, is dated; the first first.</summary>
    internal IReadOnlyList<DateOnly> With(SealedKind kind, IReadOnlyCollection<string> of, DateOnly from, DateOnly to) =>
        [.. Within(from, to).Where(d => d.Kind == kind && of.Contains(d.Of)).Select(d => d.On).Distinct().Order()];

    private IQueryable<JournalDayRecord> Within(DateOnly? from, DateOnly? to) =>
        db.JournalDays.AsNoTracking().Where(d => d.On >= (from ?? DateOnly.MinValue) && d.On <= (to ?? DateOnly.MaxValue));
}
