using EvenSplit.Books.Accepting;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Balances;

/// <summary>What a run as of a date would find for every payee: a handful of sums over what no run has taken yet.</summary>
internal static class Standings
{
    /// <param name="served">The payees the run serves; null for everyone.</param>
    public static IReadOnlyList<PayeeStanding> Of(BookDbContext db, OpenedBook book, DateOnly asOf, IReadOnlyCollection<string>? served)
    {
        var cleared = db.OpenSums.Where(e => e.ClearsOn <= asOf)
            .GroupBy(e => new { e.Payee, e.Currency })
            .Select(g => new { g.Key.Payee, g.Key.Currency, Sum = g.Sum(e => e.Amount) })
            .AsEnumerable().ToLookup(s => s.Payee, s => new Money(s.Sum, Currency.Of(s.Currency)));
        var adjustments = db.Adjustments.AsNoTracking().Where(a => a.RunId == null && a.On <= asOf)
            .AsEnumerable().ToLookup(a => a.Payee, a => new Money(a.Amount, Currency.Of(a.Currency)));
        var carried = Carried(db);
        var firstOfYear = new DateOnly(asOf.Year, 1, 1);
        var lastOfYear = new DateOnly(asOf.Year, 12, 31);
        var payments = db.PayRuns.Where(r => r.AsOf >= firstOfYear && r.AsOf <= lastOfYear)
            .SelectMany(r => r.Remittances).Where(r => r.Paid > 0)
            .GroupBy(r => r.Payee).Select(g => new { g.Key, Count = g.Count() }).ToDictionary(p => p.Key, p => p.Count);
        var recouped = db.Recoupments.Join(db.Advances, r => r.AdvanceId, a => a.Id, (r, a) => new { a.PayeeId, a.Reference, r.Amount })
            .GroupBy(r => new { r.PayeeId, r.Reference }).Select(g => new { g.Key.PayeeId, g.Key.Reference, Sum = g.Sum(r => r.Amount) })
            .AsEnumerable().ToLookup(r => r.PayeeId);
        // Whoever has still to accept what is agreed, where that holds payments, is as on hold.
        var unaccepted = UnacceptedVersions.Held(db, asOf);
        return book.Rules.Payees.Where(p => served is null || served.Contains(p.Id.Value)).Select(payee => new PayeeStanding
        {
            Payee = unaccepted.Contains(payee.Id.Value) ? payee with { OnHold = true } : payee,
            Opening = carried.GetValueOrDefault(payee.Id.Value),
            Cleared = cleared[payee.Id.Value].ToArray(),
            Adjustments = adjustments[payee.Id.Value].ToArray(),
            RecoupedBefore = recouped[payee.Id.Value].ToDictionary(r => r.Reference, r => r.Sum),
            PaymentsThisYear = payments.GetValueOrDefault(payee.Id.Value),
        }).ToArray();
    }

    /// <summary>What the latest run of each payee carried forward, in the payout currency.</summary>
    public static Dictionary<string, long> Carried(BookDbContext db) => db.Remittances
        .Where(r => r.Id == db.Remittances.Where(o => o.Payee == r.Payee).Max(o => o.Id))
        .Select(r => new { r.Payee, r.Carried }).ToDictionary(r => r.Payee, r => r.Carried);
}
