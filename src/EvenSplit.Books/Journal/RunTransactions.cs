using EvenSplit.Books.Model;
using EvenSplit.Books.Posting;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Journal;

/// <summary>A run as transactions: what the lock makes of each payee's earnings, then each payment, and what came back.</summary>
internal sealed class RunTransactions(BookDbContext db, OpenedBook book)
{
    /// <summary>What of a run is dated in a span of days, payee by payee.</summary>
    public IEnumerable<JournalTransaction> Of(PayRunRecord run, IEnumerable<RemittanceRecord> remittances, DateOnly from, DateOnly to)
    {
        var isLockWithin = Within(run.AsOf);
        var earned = isLockWithin
            ? db.TakenSums.Where(s => s.RunId == run.Id).GroupBy(s => new { s.Payee, s.Currency }).Select(g => new { g.Key.Payee, g.Key.Currency, Sum = g.Sum(e => e.Amount) }).AsEnumerable()
                .ToLookup(e => e.Payee, e => new Money(e.Sum, Currency.Of(e.Currency)))
            : Array.Empty<Money>().ToLookup(_ => "");
        var adjusted = isLockWithin ? db.Adjustments.AsNoTracking().Where(a => a.RunId == run.Id).OrderBy(a => a.Id).AsEnumerable().ToLookup(a => a.Payee) : Array.Empty<AdjustmentRecord>().ToLookup(_ => "");
        foreach (var remittance in remittances.OrderBy(r => r.Id).Where(r => r.Opening != 0 || r.Earned != 0 || r.Adjustments != 0))
        {
            var transactions = (isLockWithin ? [Locked(run, remittance, earned[remittance.Payee], adjusted[remittance.Payee])] : Array.Empty<JournalTransaction>()).Concat(Paid(run, remittance).Where(t => Within(t.On)));
            foreach (var transaction in transactions.Where(t => t.Postings.Count > 0)) yield return transaction;
        }

        bool Within(DateOnly day) => day >= from && day <= to;
    }

    private JournalTransaction Locked(PayRunRecord run, RemittanceRecord r, IEnumerable<Money> earned, IEnumerable<AdjustmentRecord> adjusted)
    {
        var currency = Currency.Of(r.Currency);
        var postings = new List<JournalPosting>();
        foreach (var money in earned) Add(postings, JournalAccount.Earnings(r.Payee), money, run, currency);
        foreach (var a in adjusted)
        {
            var account = a.Kind switch
            {
                AdjustmentKind.Returned => JournalAccount.CameBack(r.Payee),
                AdjustmentKind.WriteOff => JournalAccount.WrittenOff(r.Payee),
                _ => JournalAccount.Adjustments(r.Payee),
            };
            Add(postings, account, new Money(a.Amount, Currency.Of(a.Currency)), run, currency);
        }
        Add(postings, JournalAccount.Carried(r.Payee), r.Opening, currency);
        Add(postings, JournalAccount.Advances(r.Payee), -r.Recouped, currency);
        Add(postings, JournalAccount.Withheld, -r.Withheld, currency);
        Add(postings, JournalAccount.TransferFees, -r.TransferFee, currency);
        Add(postings, JournalAccount.Carried(r.Payee), -r.Carried, currency);
        Add(postings, JournalAccount.ToBePaid(r.Payee), -r.Paid, currency);
        return Made(run, r, run.AsOf, $"run as of {run.AsOf:yyyy-MM-dd}", postings);
    }

    /// <summary>What left the account, and what did not arrive: owed again until the run that takes it, with the fee given back.</summary>
    private IEnumerable<JournalTransaction> Paid(PayRunRecord run, RemittanceRecord r)
    {
        // What came back had left before: money out, and in again, each on its day.
        var isReturned = r is { State: RemittanceState.Returned, PaidOn: not null };
        var currency = Currency.Of(r.Currency);
        var bank = r.Method == PayoutMethod.StoreCredit ? JournalAccount.StoreCredit : JournalAccount.Bank(r.Currency);
        if (r.PaidOn is { } paidOn && (r.State == RemittanceState.Confirmed || isReturned))
        {
            var postings = new List<JournalPosting>();
            Add(postings, JournalAccount.ToBePaid(r.Payee), r.Paid, currency);
            Add(postings, bank, -r.Paid, currency);
            yield return Made(run, r, paidOn, $"paid, {r.Reference}", postings);
        }
        if (r.State is RemittanceState.Refused or RemittanceState.Returned or RemittanceState.SetAside)
        {
            var postings = new List<JournalPosting>();
            Add(postings, isReturned ? bank : JournalAccount.ToBePaid(r.Payee), r.Paid, currency);
            Add(postings, JournalAccount.TransferFees, r.TransferFee, currency);
            Add(postings, JournalAccount.CameBack(r.Payee), -r.Paid - r.TransferFee, currency);
            yield return Made(run, r, r.CameBackOn ?? r.PaidOn ?? run.AsOf, $"{(isReturned ? "came back" : "did not arrive")}, {r.Why}", postings);
        }
    }

    private JournalTransaction Made(PayRunRecord run, RemittanceRecord r, DateOnly on, string words, List<JournalPosting> postings) =>
        new(on, $"{JournalAccount.Part(book.PayeeName(r.Payee))} | {JournalAccount.Part(words)}", JournalSource.Run, FormattableString.Invariant($"{run.Id}"), $"payee:{JournalAccount.Part(r.Payee)}", postings);

    private static void Add(List<JournalPosting> postings, string account, long minor, Currency currency)
    {
        if (minor != 0) postings.Add(new JournalPosting(account, new Money(minor, currency)));
    }

    /// <summary>Each sum converted once, at the rate the run was locked with.</summary>
    private void Add(List<JournalPosting> postings, string account, Money money, PayRunRecord run, Currency into)
    {
        if (money.Minor == 0) return;
        postings.Add(new JournalPosting(account, money, money.Currency == into ? null : new Money(Worth(money, run, into), into)));
    }

    private long Worth(Money money, PayRunRecord run, Currency into)
    {
        if (_rates.Run != run.Id) _rates = (run.Id, db.RunRates.AsNoTracking().Where(r => r.RunId == run.Id).ToDictionary(r => (r.From, r.To), r => r.Factor));
        return _rates.Factors.GetValueOrDefault((money.Currency.Code, into.Code)) is { } factor ? (Fraction.ParseExact(factor) * money.Minor).Round() : book.Rules.Rates.Convert(money.Minor, money.Currency, into, run.AsOf) ?? 0;
    }

    private (int Run, Dictionary<(string, string), string?> Factors) _rates;
}
