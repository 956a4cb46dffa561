using EvenSplit.Books.Balances;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.People;

/// <summary>What a payee stands at. Held and cleared are in the currencies of the entries; the rest in the payout currency.</summary>
/// <param name="Held">In no run and not yet cleared.</param>
/// <param name="Cleared">In no run and cleared: the next run takes it.</param>
/// <param name="Carried">What the last run carried forward.</param>
/// <param name="InRun">Locked in a run and not yet marked paid.</param>
/// <param name="Paid">Marked paid, ever.</param>
public sealed record Balance(IReadOnlyList<Money> Held, IReadOnlyList<Money> Cleared, Money Carried, Money InRun, Money Paid)
{
    /// <summary>What is due, by currency: cleared and carried.</summary>
    public IReadOnlyList<Money> Owed { get; } = [.. Cleared.Append(Carried).GroupBy(m => m.Currency).Select(g => new Money(g.Sum(m => m.Minor), g.Key)).Where(m => m.Minor != 0)];
}

public sealed record PayeeRow(string Id, string Name, PayeeRole Role, IReadOnlyList<string> Codes, IReadOnlyList<string> Agreements, Currency PayoutCurrency, bool IsActive, Balance Balance);

/// <summary>The balances of several payees in one currency: of the earnings for held and cleared, of the payout for the rest.</summary>
public sealed record BalanceTotals(Currency Currency, long Held, long Cleared, long Carried, long InRun, long Paid);

/// <summary>Lists payees with their balances.</summary>
public sealed class PeopleList(BookDbContext db, BookCache cache, BookClock clock) : IUseCase
{
    public IReadOnlyList<PayeeRow> Find(PayeeRole? role, string find)
    {
        var book = cache.Get(db);
        var today = clock.Today;
        var balances = Balances(null);
        return book.Rules.Payees
            .Where(p => role is null || p.Role == role)
            .Where(p => find.Length == 0 || book.PayeeName(p.Id.Value).Contains(find, StringComparison.OrdinalIgnoreCase) || p.Codes.Any(c => c.Text.Contains(find, StringComparison.OrdinalIgnoreCase)))
            .OrderBy(p => book.PayeeName(p.Id.Value), StringComparer.OrdinalIgnoreCase)
            .Select(p => new PayeeRow(
                p.Id.Value, book.PayeeName(p.Id.Value), p.Role, [.. p.Codes.Select(c => c.Text).Distinct()],
                p.Memberships.Where(m => m.InForceOn(today)).Select(m => book.AgreementName(m.Agreement.Value)).ToArray(),
                p.PayoutCurrency, p.IsActiveOn(today), balances(p)))
            .ToArray();
    }

    public static IReadOnlyList<BalanceTotals> Totals(IReadOnlyList<PayeeRow> payees) => payees
        .SelectMany(p => p.Balance.Held.Select(m => new BalanceTotals(m.Currency, m.Minor, 0, 0, 0, 0))
            .Concat(p.Balance.Cleared.Select(m => new BalanceTotals(m.Currency, 0, m.Minor, 0, 0, 0)))
            .Append(new BalanceTotals(p.PayoutCurrency, 0, 0, p.Balance.Carried.Minor, p.Balance.InRun.Minor, p.Balance.Paid.Minor)))
        .GroupBy(t => t.Currency)
        .Select(g => new BalanceTotals(g.Key, g.Sum(t => t.Held), g.Sum(t => t.Cleared), g.Sum(t => t.Carried), g.Sum(t => t.InRun), g.Sum(t => t.Paid)))
        .OrderBy(t => t.Currency.Code, StringComparer.Ordinal).ToArray();

    public Balance BalanceOf(Payee payee) => Balances(payee.Id.Value)(payee);

    private Func<Payee, Balance> Balances(string? only)
    {
        var today = clock.Today;
        var open = db.OpenSums.Where(s => only == null || s.Payee == only).GroupBy(s => new { s.Payee, s.Currency })
            .Select(g => new { g.Key.Payee, g.Key.Currency, All = g.Sum(s => s.Amount), Cleared = g.Sum(s => s.ClearsOn <= today ? s.Amount : 0) })
            .AsEnumerable().ToLookup(o => o.Payee, o => (Held: new Money(o.All - o.Cleared, Currency.Of(o.Currency)), Cleared: new Money(o.Cleared, Currency.Of(o.Currency))));
        var adjusted = db.Adjustments.AsNoTracking().Where(a => a.RunId == null && a.On <= today && (only == null || a.Payee == only))
            .Select(a => new { a.Payee, a.Currency, a.Amount }).AsEnumerable().ToLookup(a => a.Payee, a => new Money(a.Amount, Currency.Of(a.Currency)));
        var carried = Standings.Carried(db);
        var remitted = db.Remittances.Where(r => only == null || r.Payee == only).GroupBy(r => r.Payee)
            .Select(g => new { g.Key, InRun = g.Sum(r => r.State == RemittanceState.Ready || r.State == RemittanceState.Sent ? r.Paid : 0), Paid = g.Sum(r => r.State == RemittanceState.Confirmed ? r.Paid : 0) })
            .ToDictionary(r => r.Key);
        return payee =>
        {
            var id = payee.Id.Value;
            var sums = remitted.GetValueOrDefault(id);
            return new Balance(
                open[id].Select(o => o.Held).Where(m => m.Minor != 0).ToArray(),
                open[id].Select(o => o.Cleared).Concat(adjusted[id]).GroupBy(m => m.Currency).Select(g => new Money(g.Sum(m => m.Minor), g.Key)).Where(m => m.Minor != 0).ToArray(),
                new Money(carried.GetValueOrDefault(id), payee.PayoutCurrency),
                new Money(sums?.InRun ?? 0, payee.PayoutCurrency),
                new Money(sums?.Paid ?? 0, payee.PayoutCurrency));
        };
    }
}
