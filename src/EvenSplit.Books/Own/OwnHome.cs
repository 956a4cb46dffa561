using EvenSplit.Books.Model;
using EvenSplit.Books.People;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Own;

/// <summary>Money that clears on a day; null for what waits for somebody.</summary>
public sealed record ComingDay(DateOnly? On, Money Amount);

/// <summary>A payment made or on its way.</summary>
public sealed record OwnRun(int RunId, DateOnly AsOf, Money Paid, Money Carried, RemittanceReason Reason, RemittanceState State, DateOnly? PaidOn);

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

    private static Money? Likely(Payee payee, Balance balance, IReadOnlyList<ComingDay> held, DateOnly? next)
    {
        if (next is not { } on) return null;
        var all = balance.Cleared.Concat(held.Where(h => h.On <= on).Select(h => h.Amount)).Append(balance.Carried).Where(m => m.Minor != 0).ToArray();
        if (all.Any(m => m.Currency != payee.PayoutCurrency)) return null;
        var sum = all.Sum(m => m.Minor);
        return sum > 0 && sum >= payee.Minimum ? new Money(sum, payee.PayoutCurrency) : null;
    }
}
