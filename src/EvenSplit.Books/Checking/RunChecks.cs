using EvenSplit.Books.Model;
using EvenSplit.Books.PayRuns;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Checking;

/// <summary>The figures of locked runs, held against the entries, adjustments and recoupments they took, and the files they were issued as.</summary>
internal sealed class RunChecks(BookDbContext db, OpenedBook book)
{
    private sealed record Taken(int? RunId, string Payee, string Currency, long Sum);

    public CheckLine Runs()
    {
        var runs = new Comparison("Runs");
        var (kept, comes) = (new SumsByCurrency(), new SumsByCurrency());
        var factors = db.RunRates.AsNoTracking().AsEnumerable().ToLookup(r => r.RunId);
        var entries = db.Entries.Where(e => e.RunId != null).GroupBy(e => new { e.RunId, e.Payee, e.Currency }).Select(g => new Taken(g.Key.RunId, g.Key.Payee, g.Key.Currency, g.Sum(e => e.Amount)))
            .AsEnumerable().ToLookup(t => (t.RunId!.Value, t.Payee));
        var adjustments = db.Adjustments.AsNoTracking().Where(a => a.RunId != null).Select(a => new Taken(a.RunId, a.Payee, a.Currency, a.Amount)).AsEnumerable().ToLookup(t => (t.RunId!.Value, t.Payee));
        var recouped = db.Recoupments.Join(db.Advances, r => r.AdvanceId, a => a.Id, (r, a) => new { r.RunId, a.PayeeId, r.Amount }).AsEnumerable().ToLookup(r => (r.RunId, r.PayeeId), r => r.Amount);
        var served = new HashSet<(int, string)>();
        var carried = new Dictionary<string, long>();
        foreach (var run in db.PayRuns.AsNoTracking().Include(r => r.Remittances).Where(r => r.State != RunState.Gathering).OrderBy(r => r.Id).ToArray())
        {
            var rates = new RatesOfRun(factors[run.Id]);
            foreach (var m in run.Remittances.OrderBy(m => m.Id))
            {
                served.Add((run.Id, m.Payee));
                var key = (run.Id, m.Payee);
                kept.Add(m.Currency, m.Earned);
                void Compare(string what, long was, long? now)
                {
                    if (now is { } right) runs.Compare(CheckSubject.Run, Comparison.Text(run.Id), $"{PayRunSteps.Name(run)}, {book.PayeeName(m.Payee)}, {what}", was, right);
                }

                var earned = rates.Sum(entries[key].Select(e => (e.Sum, e.Currency)), m.Currency);
                comes.Add(m.Currency, earned ?? m.Earned);
                Compare("earned", m.Earned, earned);
                Compare("adjustments", m.Adjustments, rates.Sum(adjustments[key].Select(a => (a.Sum, a.Currency)), m.Currency));
                Compare("recouped", m.Recouped, recouped[key].Sum());
                Compare("opening", m.Opening, carried.GetValueOrDefault(m.Payee));
                Compare("paid and carried", m.Paid + m.TransferFee + m.Carried, m.Opening + m.Earned + m.Adjustments - m.Recouped - m.Withheld);
                Compare("carried beside a payment", m.Paid > 0 ? m.Carried : 0, 0);
                carried[m.Payee] = m.Carried;
            }
        }
        foreach (var taken in entries.Where(e => !served.Contains(e.Key))) runs.Differ(CheckSubject.Payee, taken.Key.Payee, $"Entries of {book.PayeeName(taken.Key.Payee)}", $"taken by run {taken.Key.Value}", "a run that paid them");
        foreach (var taken in adjustments.Where(a => !served.Contains(a.Key))) runs.Differ(CheckSubject.Payee, taken.Key.Payee, $"Adjustments of {book.PayeeName(taken.Key.Payee)}", $"taken by run {taken.Key.Value}", "a run that paid them");
        return runs.Line($"earned {kept}", $"earned {comes}");
    }

    public CheckLine Files()
    {
        var files = new Comparison("Payment files");
        var (kept, comes) = (new SumsByCurrency(), new SumsByCurrency());
        var sums = db.Remittances.Where(m => m.FileId != null).GroupBy(m => m.FileId).Select(g => new { g.Key, Count = g.Select(m => m.EndToEnd).Distinct().Count(), Sum = g.Sum(m => m.Paid) }).ToDictionary(g => g.Key!.Value);
        // What is paid by hand stands in a list for whoever pays; those payments are marked one by one.
        foreach (var file in db.PaymentFiles.AsNoTracking().Where(f => f.Method != PayoutMethod.ByHand).Select(f => new { f.Id, f.RunId, f.FileName, f.Payments, f.Sum, f.Currency }))
        {
            kept.Add(file.Currency, file.Sum);
            var right = sums.GetValueOrDefault(file.Id);
            comes.Add(file.Currency, right?.Sum ?? 0);
            files.Compare(CheckSubject.Run, Comparison.Text(file.RunId), $"{file.FileName}, payments", file.Payments, right?.Count ?? 0);
            files.Compare(CheckSubject.Run, Comparison.Text(file.RunId), $"{file.FileName}, sum", file.Sum, right?.Sum ?? 0);
        }
        return files.Line(kept.ToString(), comes.ToString());
    }

    /// <summary>The rates a run was locked with.</summary>
    private sealed class RatesOfRun(IEnumerable<RunRateRecord> rates)
    {
        private readonly Dictionary<(string, string), string?> _factors = rates.ToDictionary(r => (r.From, r.To), r => r.Factor);

        /// <returns>Each amount converted by itself; null where a rate was not kept as a number.</returns>
        public long? Sum(IEnumerable<(long Amount, string Currency)> amounts, string into)
        {
            long sum = 0;
            foreach (var (amount, currency) in amounts)
            {
                if (currency == into) sum += amount;
                else if (amount != 0)
                {
                    if (_factors.GetValueOrDefault((currency, into)) is not { } factor) return null;
                    sum += (Fraction.ParseExact(factor) * amount).Round();
                }
            }
            return sum;
        }
    }
}
