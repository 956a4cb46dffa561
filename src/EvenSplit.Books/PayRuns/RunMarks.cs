using EvenSplit.Books.Model;
using EvenSplit.Books.Payouts;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.PayRuns;

/// <summary>What is unusual about what a run pays, found as it is gathered and kept as it is locked.</summary>
internal static class RunMarks
{
    /// <summary>A payment of more than this many times the one before is a jump.</summary>
    private const int JumpFactor = 2;

    /// <param name="often">By payee, in words, how much of what came by them goes back where that is over the limit.</param>
    /// <param name="asOf">The run's date: up to which adjustments are in it.</param>
    /// <param name="goes">By payee, where their money goes.</param>
    public static IReadOnlyList<RunMarkRecord> Of(BookDbContext db, ILookup<string, string> often, IReadOnlyDictionary<string, Destination> goes, DateOnly asOf, IReadOnlyCollection<Remittance> remittances)
    {
        var paid = remittances.Where(r => r.Paid > 0).ToArray();
        if (paid.Length == 0) return [];
        var before = Before(db);
        var paidTo = PaidTo(db);
        var again = DidNotArrive(db, asOf);
        var payees = db.Payees.AsNoTracking().Select(p => new { p.Id, p.TaxForm }).ToDictionary(p => p.Id, p => p.TaxForm);
        var marks = new List<RunMarkRecord>();
        foreach (var remittance in paid)
        {
            var payee = remittance.Payee.Value;
            var used = goes[payee].Details;
            void Mark(RunMark mark, string says) => marks.Add(new RunMarkRecord { Payee = payee, Mark = mark, Says = says });
            if (!before.TryGetValue(payee, out var last)) Mark(RunMark.FirstPayment, "Their first payment.");
            else
            {
                if (remittance.Paid > JumpFactor * last) Mark(RunMark.Jump, $"More than twice the last payment, {new Money(last, remittance.Currency).InWords()}.");
                // Whether or not the last payment was by hand: what counts is where money has arrived before.
                if (used is not null && !paidTo.Contains(used.Id)) Mark(RunMark.NewDetails, $"Goes to {used.Shown}, where nothing was paid before.");
            }
            foreach (var note in again[payee]) Mark(RunMark.OwedAgain, note);
            if (used is { CameBack: true }) Mark(RunMark.DetailsCameBack, $"A payment to {used.Shown} came back.");
            if (used is null && goes[payee].Method is PayoutMethod.Bank or PayoutMethod.Wallet) Mark(RunMark.NoDetails, "No payout details that may be used yet.");
            if (payees[payee].Length == 0) Mark(RunMark.NoTaxForm, "No tax form on file.");
            if (often[payee].FirstOrDefault() is { } says) Mark(RunMark.RefundRate, says);
        }
        return marks;
    }

    /// <summary>What each payee's latest payment was.</summary>
    private static Dictionary<string, long> Before(BookDbContext db) => db.Remittances.AsNoTracking()
        .Where(r => r.Paid > 0 && r.Id == db.Remittances.Where(o => o.Payee == r.Payee && o.Paid > 0).Max(o => o.Id))
        .Select(r => new { r.Payee, r.Paid }).ToDictionary(r => r.Payee, r => r.Paid);

    /// <summary>Details to which a payment has gone and has not come back.</summary>
    private static HashSet<int> PaidTo(BookDbContext db) => db.Remittances.AsNoTracking()
        .Where(r => r.DetailsId != null && (r.State == RemittanceState.Sent || r.State == RemittanceState.Confirmed)).Select(r => r.DetailsId!.Value).Distinct().ToHashSet();

    /// <summary>By payee, payments that did not arrive and are in the run once more: whoever approves sees why.</summary>
    private static ILookup<string, string> DidNotArrive(BookDbContext db, DateOnly asOf) => db.Adjustments.AsNoTracking()
        .Where(a => a.RunId == null && a.Kind == AdjustmentKind.Returned && a.On <= asOf).GroupBy(a => a.Payee)
        .Select(g => new { g.Key, Count = g.Count(), Note = g.Min(a => a.Note)! }).AsEnumerable()
        .ToLookup(a => a.Key, a => a.Count == 1 ? a.Note + "." : $"{MoneyWords.Count(a.Count, "payment")} that did not arrive, owed again; the first: {a.Note}.");
}
