using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Clearing;

/// <summary>What clears for payees of one role on one day.</summary>
public sealed record ClearingAmount(DateOnly On, PayeeRole Role, Money Amount);

/// <summary>A month of clearing days.</summary>
/// <param name="Awaited">What waits for a sign-off or is held back, and clears on no day yet.</param>
/// <param name="Later">What clears after the month.</param>
public sealed record CalendarView(Period Period, IReadOnlyList<ClearingAmount> Days, IReadOnlyList<Money> Before, IReadOnlyList<Money> Awaited, IReadOnlyList<Money> Later);

/// <summary>An order that waits for a sign-off, with what waits on it.</summary>
public sealed record AwaitingSignOff(string OrderId, DateOnly PaidOn, string Channel, Money Charged, IReadOnlyList<Money> Waiting, IReadOnlyList<string> Payees);

/// <summary>Tells what clears when, of what no run has taken yet, from the kept sums; and which orders wait for a sign-off.</summary>
public sealed class ClearingCalendar(BookDbContext db, BookCache cache) : IUseCase
{
    private const int MostOrders = 300;

    public CalendarView Find(Period period)
    {
        var book = cache.Get(db);
        var roles = book.Rules.Payees.ToDictionary(p => p.Id.Value, p => p.Role);
        var (first, last) = (period.FirstDay, period.LastDay);
        var days = db.OpenSums.Where(s => s.ClearsOn >= first && s.ClearsOn <= last && s.Amount != 0).Select(s => new { s.ClearsOn, s.Payee, s.Currency, s.Amount }).AsEnumerable()
            .GroupBy(s => (s.ClearsOn, Role: roles[s.Payee], s.Currency)).Select(g => new ClearingAmount(g.Key.ClearsOn, g.Key.Role, new Money(g.Sum(s => s.Amount), Currency.Of(g.Key.Currency))))
            .Where(a => a.Amount.Minor != 0).OrderBy(a => a.On).ThenBy(a => a.Role).ToArray();
        var never = DateOnly.MaxValue;
        return new CalendarView(
            period, days,
            Sum(db.OpenSums.Where(s => s.ClearsOn < first)), Sum(db.OpenSums.Where(s => s.ClearsOn == never)), Sum(db.OpenSums.Where(s => s.ClearsOn > last && s.ClearsOn != never)));
    }

    /// <summary>Orders with entries that clear only once they are signed off, the earliest first.</summary>
    public IReadOnlyList<AwaitingSignOff> Awaiting()
    {
        var book = cache.Get(db);
        var never = DateOnly.MaxValue;
        // The kept sums say whose entries wait, so that nobody else's are looked at.
        var payees = db.OpenSums.Where(s => s.ClearsOn == never && s.Amount != 0).Select(s => s.Payee).Distinct().ToArray();
        var waiting = db.Entries.AsNoTracking().Where(e => payees.Contains(e.Payee) && e.RunId == null && e.ClearsOn == null)
            .Join(db.Orders.Where(o => o.SignedOffAt == null), e => e.OrderId, o => o.Id, (e, o) => new { e.Payee, e.Currency, e.Amount, o.OrderId, o.PaidAt, o.Channel, o.Charged, OrderCurrency = o.Currency })
            .OrderBy(e => e.PaidAt).Take(MostOrders * 10).AsEnumerable();
        return [.. waiting.GroupBy(e => e.OrderId).Take(MostOrders).Select(g => new AwaitingSignOff(
            g.Key, book.Time.DateOf(g.First().PaidAt!.Value), book.ChannelName(g.First().Channel), new Money(g.First().Charged, Currency.Of(g.First().OrderCurrency)),
            [.. g.GroupBy(e => e.Currency).Select(c => new Money(c.Sum(e => e.Amount), Currency.Of(c.Key)))], [.. g.Select(e => book.PayeeName(e.Payee)).Distinct()]))];
    }

    private static Money[] Sum(IQueryable<OpenSumRecord> sums) => [.. sums.GroupBy(s => s.Currency).Select(g => new { g.Key, Sum = g.Sum(s => s.Amount) })
        .AsEnumerable().Where(s => s.Sum != 0).OrderBy(s => s.Key, StringComparer.Ordinal).Select(s => new Money(s.Sum, Currency.Of(s.Key)))];
}
