using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Proofs;

/// <summary>The chains of payees' balances through a month (reconcile contract, section 6). Both ends are found from other sums than what lies between.</summary>
internal sealed class PayeeProof(BookDbContext db, Period month)
{
    private sealed record Sum(string Payee, string Currency, long Amount);

    public IReadOnlyList<EarningsChain> Earnings()
    {
        var (first, last) = (month.FirstDay, month.LastDay);
        var posted = Of(db.EntrySums.Where(s => s.Period < month.Number).GroupBy(s => new { s.Payee, s.Currency }).Select(g => new Sum(g.Key.Payee, g.Key.Currency, g.Sum(s => s.Amount))));
        var takenBefore = Of(Taken(db.PayRuns.Where(r => r.AsOf < first)));
        var earned = Of(db.EntrySums.Where(s => s.Period == month.Number && !s.IsReversal).GroupBy(s => new { s.Payee, s.Currency }).Select(g => new Sum(g.Key.Payee, g.Key.Currency, g.Sum(s => s.Amount))));
        var reversed = Of(db.EntrySums.Where(s => s.Period == month.Number && s.IsReversal).GroupBy(s => new { s.Payee, s.Currency }).Select(g => new Sum(g.Key.Payee, g.Key.Currency, g.Sum(s => s.Amount))));
        var taken = Of(Taken(db.PayRuns.Where(r => r.AsOf >= first && r.AsOf <= last)));
        // The closing is told by what is open now, what later runs took, and what was posted since.
        var open = Of(db.OpenSums.GroupBy(s => new { s.Payee, s.Currency }).Select(g => new Sum(g.Key.Payee, g.Key.Currency, g.Sum(s => s.Amount))));
        var takenLater = Of(Taken(db.PayRuns.Where(r => r.AsOf > last)));
        var postedLater = Of(db.EntrySums.Where(s => s.Period > month.Number).GroupBy(s => new { s.Payee, s.Currency }).Select(g => new Sum(g.Key.Payee, g.Key.Currency, g.Sum(s => s.Amount))));
        return [.. posted.Keys.Union(earned.Keys).Union(reversed.Keys).Union(open.Keys).Union(takenLater.Keys).Select(k => new EarningsChain(
            k.Payee, k.Currency, posted.GetValueOrDefault(k) - takenBefore.GetValueOrDefault(k), earned.GetValueOrDefault(k), reversed.GetValueOrDefault(k), taken.GetValueOrDefault(k),
            open.GetValueOrDefault(k) + takenLater.GetValueOrDefault(k) - postedLater.GetValueOrDefault(k)))
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

    private IQueryable<Sum> Taken(IQueryable<PayRunRecord> runs) => db.TakenSums.Where(s => runs.Any(r => r.Id == s.RunId)).GroupBy(s => new { s.Payee, s.Currency }).Select(g => new Sum(g.Key.Payee, g.Key.Currency, g.Sum(s => s.Amount)));

    private static Dictionary<(string Payee, string Currency), long> Of(IQueryable<Sum> sums) => sums.AsEnumerable().ToDictionary(s => (s.Payee, s.Currency), s => s.Amount);
}
