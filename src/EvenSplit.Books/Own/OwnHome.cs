using EvenSplit.Books.Model;
using EvenSplit.Books.People;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Own;

/// <summary>Money that clears on a day; null for what waits for somebody.</summary>
public sealed record ComingDay(DateOnly? On, Money Amount);

/// <summary>A payment made or on its way.</summary>
public sealed record OwnRun(int RunId, DateOnly AsOf, Money Paid, Money Carried, RemittanceReason Reason, RemittanceState State, DateOnly? PaidOn);

/// <summary>What has changed since a payee looked last.</summary>
/// <param name="On">The day they looked last.</param>
/// <param name="Entries">How many were posted since that day, and what they come to in each currency.</param>
/// <param name="Paid">Payments that arrived since.</param>
/// <param name="Answers">Questions answered since.</param>
public sealed record SinceLast(DateOnly On, int Entries, IReadOnlyList<Money> Sums, IReadOnlyList<Money> Paid, int Answers)
{
    public bool IsNothing => Entries == 0 && Paid.Count == 0 && Answers == 0;
}

/// <summary>What a payee has coming.</summary>
/// <param name="Days">What is held, by the day on which it clears.</param>
/// <param name="NextOn">The day as of which they are paid next; null where they ask for it themselves.</param>
/// <param name="Likely">What that would come to as things stand, in the payout currency; null where another currency is in it, or it is below their minimum.</param>
public sealed record OwnView(PayeeRecord Record, Balance Balance, IReadOnlyList<ComingDay> Days, DateOnly? NextOn, Money? Likely, Money Minimum, IReadOnlyList<OwnRun> Runs);

/// <summary>What a payee sees of themselves. Every figure is of the payee who is given, and of nobody else.</summary>
public sealed class OwnHome(BookDbContext db, BookCache cache, BookClock clock, PeopleList people) : IUseCase
{
    public OwnView Of(string payee)
    {
        var (book, today) = (cache.Get(db), clock.Today);
        var known = book.Rules.Payee(new PayeeId(payee));
        var record = db.Payees.AsNoTracking().Include(p => p.Codes).Known(p => p.Id == payee);
        var balance = people.BalanceOf(known);
        var held = db.OpenSums.AsNoTracking().Where(s => s.Payee == payee && s.ClearsOn > today).GroupBy(s => new { s.ClearsOn, s.Currency }).Select(g => new { g.Key.ClearsOn, g.Key.Currency, Sum = g.Sum(s => s.Amount) }).AsEnumerable()
            .Where(s => s.Sum != 0).OrderBy(s => s.ClearsOn).ThenBy(s => s.Currency, StringComparer.Ordinal)
            .Select(s => new ComingDay(s.ClearsOn == DateOnly.MaxValue ? null : s.ClearsOn, new Money(s.Sum, Currency.Of(s.Currency)))).ToArray();
        PayoutSchedule.TryParse(record.Schedule, out var schedule);
        var next = schedule?.DueOnOrAfter(today, db.Holidays.AsNoTracking().Select(h => h.On).ToHashSet());
        var runs = db.Remittances.AsNoTracking().Where(r => r.Payee == payee).Join(db.PayRuns.Where(r => r.State != RunState.Gathering), r => r.RunId, r => r.Id, (r, run) => new { r, run.AsOf }).OrderByDescending(r => r.AsOf).ThenByDescending(r => r.r.Id).AsEnumerable()
            .Select(r => new OwnRun(r.r.RunId, r.AsOf, new Money(r.r.Paid, Currency.Of(r.r.Currency)), new Money(r.r.Carried, Currency.Of(r.r.Currency)), r.r.Reason, r.r.State, r.r.PaidOn)).ToArray();
        return new OwnView(record, balance, held, next, Likely(known, balance, held, next), new Money(record.Minimum, known.PayoutCurrency), runs);
    }

    /// <summary>What has changed since the sign-in before this one; null where there was none.</summary>
    /// <param name="session">The sign-in they look by.</param>
    public SinceLast? Since(string payee, string? session)
    {
        var before = db.PayeeSessions.AsNoTracking().Where(s => s.Payee == payee && s.Id != session).OrderByDescending(s => s.StartedAt).Select(s => (DateTimeOffset?)s.StartedAt).FirstOrDefault();
        if (before is not { } at) return null;
        var on = cache.Get(db).Time.DateOf(at);
        var posted = db.Entries.AsNoTracking().Where(e => e.Payee == payee && e.PostedOn >= on).GroupBy(e => e.Currency).Select(g => new { g.Key, Count = g.Count(), Sum = g.Sum(e => e.Amount) }).ToArray();
        var paid = db.Remittances.AsNoTracking().Where(r => r.Payee == payee && r.State == RemittanceState.Confirmed && r.PaidOn >= on).Select(r => new { r.Paid, r.Currency }).AsEnumerable().Select(r => new Money(r.Paid, Currency.Of(r.Currency))).ToArray();
        return new SinceLast(on, posted.Sum(p => p.Count), [.. posted.OrderBy(p => p.Key, StringComparer.Ordinal).Select(p => new Money(p.Sum, Currency.Of(p.Key)))], paid, db.PayeeQuestions.Count(q => q.Payee == payee && q.AnsweredAt > at));
    }

    private static Money? Likely(Payee payee, Balance balance, IReadOnlyList<ComingDay> held, DateOnly? next)
    {
        if (next is not { } on) return null;
        var all = balance.Cleared.Concat(held.Where(h => h.On <= on).Select(h => h.Amount)).Append(balance.Carried).Where(m => m.Minor != 0).ToArray();
        if (all.Any(m => m.Currency != payee.PayoutCurrency)) return null;
        var sum = all.Sum(m => m.Minor);
        return sum > 0 && sum >= payee.Minimum ? new Money(sum, payee.PayoutCurrency) : null;
    }
}
