using EvenSplit.Books.Journal;
using EvenSplit.Books.Model;
using EvenSplit.Books.Posting;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Proofs;

/// <summary>Clearing and bank accounts of the journal, as they stand now, held against what the benches show open (reconcile contract, sections 5 and 6).</summary>
internal sealed class AccountProof(BookDbContext db, OpenedBook book)
{
    private readonly OutsideTransactions _outside = new(db, book);

    public IEnumerable<ProofLine> Lines() => Clearing().Concat(Bank());

    /// <summary>A processor's account: what sales put into it and settlements took out, against what no line has shown yet and what differs.</summary>
    private IEnumerable<ProofLine> Clearing()
    {
        var journal = new Dictionary<(string Processor, string Currency), long>();
        void Add(Dictionary<(string, string), long> sums, string processor, string currency, long amount) => sums[(processor, currency)] = sums.GetValueOrDefault((processor, currency)) + amount;
        var shown = new Dictionary<(string Processor, string Currency), long>();
        _outside.ReadProcessors();
        foreach (var s in db.ProcessorSums.AsNoTracking().ToArray())
        {
            var processor = s.Kind == ProcessorSumKind.Sold ? s.Of : _outside.ProcessorOf(s.Of);
            // What settlements took out of the account; what of one is not paid out stays in it.
            if (s.Kind != ProcessorSumKind.Settled) Add(journal, processor, s.Currency, s.Kind == ProcessorSumKind.Sold ? s.Amount : -s.Amount);
            if (s.Kind != ProcessorSumKind.Sold) Add(shown, processor, s.Currency, s.Kind == ProcessorSumKind.TakenOut ? -s.Amount : s.Amount);
        }
        foreach (var s in db.NotSettledDays.GroupBy(d => new { d.Processor, d.Currency }).Select(g => new { g.Key, Sum = g.Sum(d => d.Amount) })) Add(shown, s.Key.Processor, s.Key.Currency, s.Sum);
        // What of the lines does not agree with ours.
        foreach (var (processor, currency, amount) in _outside.Standing()) Add(shown, processor, currency, amount);
        foreach (var (_, line, processor, awaited) in _outside.Accepted())
        {
            if (line is not null)
            {
                foreach (var (currency, amount) in _outside.StandingOf(line))
                {
                    Add(journal, processor, currency.Code, -amount);
                    Add(shown, processor, currency.Code, -amount);
                }
            }
            else if (awaited is not null)
            {
                Add(journal, awaited.Source, awaited.Currency, awaited.Fee - awaited.Gross);
                Add(shown, awaited.Source, awaited.Currency, awaited.Fee - awaited.Gross);
            }
        }
        return journal.Keys.Union(shown.Keys).OrderBy(k => k.Processor, StringComparer.Ordinal).ThenBy(k => k.Currency, StringComparer.Ordinal)
            .Select(k => new ProofLine(ProofChecks.Clearing, k.Processor, k.Currency, journal.GetValueOrDefault(k), shown.GetValueOrDefault(k)));
    }

    /// <summary>Accounts of which there is a statement: what the journal has, against the last balance less what is open on the bench and with what no statement has shown yet.</summary>
    private IEnumerable<ProofLine> Bank()
    {
        var last = db.BankStatements.AsNoTracking().Where(s => s.Closing != null).AsEnumerable().GroupBy(s => (s.Account, s.Currency))
            .Select(g => g.OrderBy(s => s.First).ThenBy(s => s.Last).ThenBy(s => s.Id).Last()).ToArray();
        if (last.Length == 0) yield break;
        var booked = new Dictionary<string, long>();
        foreach (var posting in _outside.Bank(DateOnly.MinValue, DateOnly.MaxValue).SelectMany(t => t.Postings).Where(p => p.Account == JournalAccount.Bank(p.Amount.Currency.Code)))
        {
            booked[posting.Amount.Currency.Code] = booked.GetValueOrDefault(posting.Amount.Currency.Code) + posting.Amount.Minor;
        }
        var gaps = _outside.OpenGaps().GroupBy(p => p.Amount.Currency.Code).ToDictionary(g => g.Key, g => g.Sum(p => p.Amount.Minor));
        // What stands on a line that is open is not shown: only what was settled is in the journal.
        var shown = db.OutsideLines.AsNoTracking().Where(l => l.Bench == Bench.Bank && l.State != MatchState.Open && l.Ours != null).AsEnumerable()
            .SelectMany(l => OutsideTransactions.Ours(l).Select(o => (o, l.Gross < 0))).ToHashSet();
        foreach (var currency in last.GroupBy(s => s.Currency).OrderBy(g => g.Key, StringComparer.Ordinal))
        {
            var left = db.Remittances.AsNoTracking().Where(r => r.Currency == currency.Key && r.PaidOn != null && r.Method != PayoutMethod.StoreCredit)
                .Where(r => r.State == RemittanceState.Confirmed || r.State == RemittanceState.Returned)
                .Select(r => new { Ours = "remittance:" + (r.EndToEnd ?? r.Reference), r.Paid, CameBack = r.State == RemittanceState.Returned }).ToArray();
            var open = db.OutsideLines.Where(l => l.Bench == Bench.Bank && l.Currency == currency.Key && l.State == MatchState.Open).Sum(l => l.Gross);
            // A payment that came back is in the journal as it left and as it came back, each of which a line may show.
            var notShown = left.Sum(r => (shown.Contains((r.Ours, true)) ? 0 : -r.Paid) + (r.CameBack && !shown.Contains((r.Ours, false)) ? r.Paid : 0));
            var inJournal = booked.GetValueOrDefault(currency.Key) - left.Where(r => !r.CameBack).Sum(r => r.Paid);
            yield return new(ProofChecks.Bank, "", currency.Key, inJournal, currency.Sum(s => s.Closing!.Value) - open - gaps.GetValueOrDefault(currency.Key) + notShown);
        }
    }
}
