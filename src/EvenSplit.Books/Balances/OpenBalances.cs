using EvenSplit.Books.Model;
using EvenSplit.Core;

namespace EvenSplit.Books.Balances;

/// <summary>What is open towards all payees together in one currency, minor units, as of today.</summary>
/// <param name="Held">Posted, in no run and not yet cleared.</param>
/// <param name="Cleared">Posted and cleared, with what was adjusted: the next run takes it.</param>
/// <param name="Carried">What the last run of each payee carried forward.</param>
public sealed record OpenBalance(Currency Currency, long Held, long Cleared, long Carried)
{
    /// <summary>What is due: cleared and carried.</summary>
    public long Owed => Cleared + Carried;
}

/// <summary>Sums up what is open without looking at payees one by one.</summary>
public sealed class OpenBalances(BookDbContext db, BookCache cache, BookClock clock) : IUseCase
{
    public IReadOnlyList<OpenBalance> Find()
    {
        var (book, today) = (cache.Get(db), clock.Today);
        var open = db.OpenSums.GroupBy(s => s.Currency).Select(g => new { g.Key, All = g.Sum(s => s.Amount), Cleared = g.Sum(s => s.ClearsOn <= today ? s.Amount : 0) }).AsEnumerable()
            .Select(s => new OpenBalance(Currency.Of(s.Key), s.All - s.Cleared, s.Cleared, 0));
        var adjusted = db.Adjustments.Where(a => a.RunId == null && a.On <= today).GroupBy(a => a.Currency).Select(g => new { g.Key, Sum = g.Sum(a => a.Amount) }).AsEnumerable()
            .Select(a => new OpenBalance(Currency.Of(a.Key), 0, a.Sum, 0));
        var carried = Standings.Carried(db).Where(c => c.Value != 0).Select(c => new OpenBalance(book.Rules.Payee(new PayeeId(c.Key)).PayoutCurrency, 0, 0, c.Value));
        return [.. open.Concat(adjusted).Concat(carried).GroupBy(b => b.Currency)
            .Select(g => new OpenBalance(g.Key, g.Sum(b => b.Held), g.Sum(b => b.Cleared), g.Sum(b => b.Carried)))
            .Where(b => (b.Held, b.Cleared, b.Carried) != (0, 0, 0)).OrderBy(b => b.Currency.Code, StringComparer.Ordinal)];
    }
}
