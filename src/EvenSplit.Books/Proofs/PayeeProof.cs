using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Proofs;

/// <summary>The chains of payees' balances through a month (reconcile contract, section 6). Both ends are found from other sums than what lies between.</summary>
internal sealed class PayeeProof(BookDbContext db, Period month)
{
    public IReadOnlyList<EarningsChain> Earnings()
    {
        var (first, last, number) = (month.FirstDay, month.LastDay, month.Number);
        var posted = db.EntrySums.GroupBy(s => new { s.Payee, s.Currency }).Select(g => new
        {
            g.Key,
            Before = g.Sum(s => s.Period < number ? s.Amount : 0),
            Earned = g.Sum(s => s.Period == number && !s.IsReversal ? s.Amount : 0),
            Reversed = g.Sum(s => s.Period == number && s.IsReversal ? s.Amount : 0),
            Later = g.Sum(s => s.Period > number ? s.Amount : 0),
        }).ToDictionary(s => (s.Key.Payee, s.Key.Currency));
        var taken = db.TakenSums.Join(db.PayRuns, s => s.RunId, r => r.Id, (s, r) => new { s.Payee, s.Currency, s.Amount, r.AsOf }).GroupBy(s => new { s.Payee, s.Currency }).Select(g => new
        {
            g.Key,
            Before = g.Sum(s => s.AsOf < first ? s.Amount : 0),
            Within = g.Sum(s => s.AsOf >= first && s.AsOf <= last ? s.Amount : 0),
            Later = g.Sum(s => s.AsOf > last ? s.Amount : 0),
        }).ToDictionary(s => (s.Key.Payee, s.Key.Currency));
        var open = db.OpenSums.GroupBy(s => new { s.Payee, s.Currency }).Select(g => new { g.Key, Sum = g.Sum(s => s.Amount) }).ToDictionary(s => (s.Key.Payee, s.Key.Currency), s => s.Sum);
        // The closing is told by what is open now, what later runs took, and what was posted since.
        return [.. posted.Keys.Union(taken.Keys).Union(open.Keys).Select(k => (Key: k, Posted: posted.GetValueOrDefault(k), Taken: taken.GetValueOrDefault(k))).Select(k => new EarningsChain(
            k.Key.Payee, k.Key.Currency, (k.Posted?.Before ?? 0) - (k.Taken?.Before ?? 0), k.Posted?.Earned ?? 0, k.Posted?.Reversed ?? 0, k.Taken?.Within ?? 0,
            open.GetValueOrDefault(k.Key) + (k.Taken?.Later ?? 0) - (k.Posted?.Later ?? 0)))
            .Where(c => c is not { Opening: 0, Earned: 0, Reversed: 0, Taken: 0, Closing: 0 }).OrderBy(c => c.Payee, StringComparer.Ordinal).ThenBy(c => c.Currency, StringComparer.Ordinal)];
    }

    public IReadOnlyList<CarriedChain> Carried()
    {
        var (first, last) = (month.FirstDay, month.LastDay);
        var all = db.Remittances.AsNoTracking().Join(db.PayRuns.Where(r => r.State != RunState.Gathering && r.AsOf <= last), m => m.RunId, r => r.Id, (m, r) => new { Remittance = m, r.AsOf });
        var within = all.Where(m => m.AsOf >= first).AsEnumerable().OrderBy(m => m.AsOf).ThenBy(m => m.Remittance.RunId).GroupBy(m => m.Remittance.Payee)
            .ToDictionary(g => g.Key, g => g.Select(m => m.Remittance).ToArray());
        var latest = db.Remittances.AsNoTracking().Where(m => db.PayRuns.Any(r => r.Id == m.RunId && r.State != RunState.Gathering && r.AsOf < first)).GroupBy(m => m.Payee).Select(g => g.Max(m => m.Id));
        var before = db.Remittances.AsNoTracking().Where(m => latest.Contains(m.Id)).ToDictionary(m => m.Payee);
        return [.. within.Keys.Union(before.Keys).Select(payee =>
        {
            var remittances = within.GetValueOrDefault(payee) ?? [];
            var opening = before.TryGetValue(payee, out var earlier) ? earlier.Carried : 0;
            return new CarriedChain(
                payee, (remittances.LastOrDefault() ?? earlier!).Currency, opening, remittances.Sum(r => r.Earned), remittances.Sum(r => r.Adjustments), remittances.Sum(r => r.Recouped), remittances.Sum(r => r.Withheld),
                remittances.Sum(r => r.TransferFee), remittances.Sum(r => r.Paid), remittances.Length > 0 ? remittances[^1].Carried : opening);
        }).Where(c => c is not { Opening: 0, Earned: 0, Adjustments: 0, Paid: 0, Closing: 0 }).OrderBy(c => c.Payee, StringComparer.Ordinal)];
    }
}
