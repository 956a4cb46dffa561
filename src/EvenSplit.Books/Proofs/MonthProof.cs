using System.Globalization;
using System.Text.Json;
using EvenSplit.Books.Checking;
using EvenSplit.Books.Journal;
using EvenSplit.Books.Model;
using EvenSplit.Books.Reconcile;
using EvenSplit.Books.Scenarios;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Proofs;

/// <summary>A month proved: every check with both figures, and the chains of its payees.</summary>
/// <param name="WorkedOutOn">When the entries were last held against the whole book worked out anew; null where that is just now.</param>
public sealed record ProofView(Period Month, IReadOnlyList<ProofLine> Lines, IReadOnlyList<EarningsChain> Earnings, IReadOnlyList<CarriedChain> Carried, DateTimeOffset? WorkedOutOn)
{
    public bool Holds => Lines.All(l => l.Holds);

    public int Checks => Lines.Select(l => l.Check).Distinct().Count();

    public int Failing => Lines.Where(l => !l.Holds).Select(l => l.Check).Distinct().Count();
}

/// <summary>Proves a month (reconcile contract, section 6).</summary>
public sealed class MonthProof(BookDbContext db, BookCache cache, BookFacts facts, BookJournal journal, JournalDays days, FindMatches matches) : IUseCase
{
    /// <summary>Up to so many orders the whole book is worked out anew for a proof; beyond, the last check of the book says what it comes to.</summary>
    private const int WorkedOutUpTo = 5_000;

    private static readonly string[] Header = ["check", "payee", "currency", "left", "right", "ok"];

    public ProofView Of(Period month)
    {
        var payees = new PayeeProof(db, month);
        var (earnings, carried) = (payees.Earnings(), payees.Carried());
        var sales = days.Between(month.FirstDay, month.LastDay);
        var (workedOut, on) = WorkedOut();
        ProofLine[] lines =
        [
            .. earnings.Select(c => new ProofLine(ProofChecks.Earnings, c.Payee, c.Currency, c.Comes, c.Closing)),
            .. carried.Select(c => new ProofLine(ProofChecks.Carried, c.Payee, c.Currency, c.Comes, c.Closing)),
            .. Opening(month, earnings, carried), .. Sums(month, sales), .. workedOut, .. Charged(month), .. Runs(month), .. Journal(month, sales),
            .. new AccountProof(db, cache.Get(db)).Lines(), .. Once(),
        ];
        return new ProofView(month, lines, earnings, carried, on);
    }

    /// <summary>As CSV, once everything that waits is booked.</summary>
    public void Write(Period month, TextWriter to)
    {
        matches.RunAll();
        Write(Of(month), to);
    }

    public static void Write(ProofView proof, TextWriter to) =>
        CsvOutput.Write(to, Header, proof.Lines.Select(l => (string[])[l.Check, l.Payee, l.Currency, Text(l, l.Left), Text(l, l.Right), l.Holds ? "true" : "false"]));

    private static string Text(ProofLine line, long figure) => line.Currency.Length == 0 ? figure.ToString(CultureInfo.InvariantCulture) : new Money(figure, Currency.Of(line.Currency)).ToMajorText();

    /// <summary>Against what the month before came to as it was closed, where it is closed.</summary>
    private IEnumerable<ProofLine> Opening(Period month, IReadOnlyList<EarningsChain> earnings, IReadOnlyList<CarriedChain> carried)
    {
        var before = month.Previous.Number;
        var kept = db.MonthCloses.AsNoTracking().Where(c => c.Period == before && c.ConfirmedBy != null && c.OpenedConfirmedBy == null).Select(c => c.Proof).FirstOrDefault();
        if (kept is null || KeptProof.Read(kept) is not { } closed) yield break;
        var openings = earnings.Select(c => (Check: ProofChecks.Earnings, c.Payee, c.Currency, c.Opening)).Concat(carried.Select(c => (Check: ProofChecks.Carried, c.Payee, c.Currency, c.Opening)));
        foreach (var c in openings)
        {
            yield return new(ProofChecks.Opening, c.Payee, c.Currency, c.Opening, closed.Closings.GetValueOrDefault(KeptProof.Key(c.Check, c.Payee, c.Currency)));
        }
    }

    private IEnumerable<ProofLine> Sums(Period month, IEnumerable<DaysSum> sales)
    {
        var kept = db.EntrySums.Where(s => s.Period == month.Number).GroupBy(s => s.Currency).Select(g => new { g.Key, Sum = g.Sum(s => s.Amount) }).ToDictionary(s => s.Key, s => s.Sum);
        var entries = sales.Where(s => s.Kind == SealedKind.Entries).GroupBy(s => s.Currency).ToDictionary(g => g.Key, g => g.Sum(s => s.Debit - s.Credit));
        return kept.Keys.Union(entries.Keys).Order(StringComparer.Ordinal).Select(c => new ProofLine(ProofChecks.Sums, "", c, kept.GetValueOrDefault(c), entries.GetValueOrDefault(c)));
    }

    /// <summary>All entries of the book, since what an order comes to may depend on any other.</summary>
    private (IEnumerable<ProofLine> Lines, DateTimeOffset? On) WorkedOut()
    {
        if (db.Orders.OrderBy(o => o.Id).Skip(WorkedOutUpTo).Any())
        {
            var last = db.BookChecks.AsNoTracking().Where(c => c.IsDone).OrderByDescending(c => c.Id).FirstOrDefault();
            return ([new(ProofChecks.WorkedOut, "", "", last is null ? -1 : last.Differences, 0)], last?.At);
        }
        var comes = BookAnew.WorkOut(db, cache.Get(db), facts.Read()).Result.Entries.GroupBy(e => e.Amount.Currency.Code).ToDictionary(g => g.Key, g => g.Sum(e => e.Amount.Minor));
        var posted = db.EntrySums.GroupBy(s => s.Currency).Select(g => new { g.Key, Sum = g.Sum(s => s.Amount) }).ToDictionary(s => s.Key, s => s.Sum);
        return (posted.Keys.Union(comes.Keys).Order(StringComparer.Ordinal).Select(c => new ProofLine(ProofChecks.WorkedOut, "", c, posted.GetValueOrDefault(c), comes.GetValueOrDefault(c))), null);
    }

    private IEnumerable<ProofLine> Charged(Period month) => db.PeriodTotals.AsNoTracking().Where(t => t.Period == month.Number).OrderBy(t => t.Currency).AsEnumerable()
        .Select(t => new ProofLine(ProofChecks.Charged, "", t.Currency, t.Charged + t.Rebate, t.Tax + t.ProcessingFee + t.ChannelFee + t.Affiliates + t.Collaborators + t.Vendors + t.House));

    private IEnumerable<ProofLine> Runs(Period month)
    {
        var (first, last) = (month.FirstDay, month.LastDay);
        var runs = db.PayRuns.Where(r => r.State != RunState.Gathering && r.AsOf >= first && r.AsOf <= last).Select(r => r.Id);
        var remittances = db.Remittances.AsNoTracking().Where(r => runs.Contains(r.RunId) && r.Paid > 0);
        var inFiles = remittances.Where(r => r.FileId != null).GroupBy(r => r.Currency).Select(g => new { g.Key, Sum = g.Sum(r => r.Paid) }).ToDictionary(g => g.Key, g => g.Sum);
        var files = db.PaymentFiles.AsNoTracking().Where(f => runs.Contains(f.RunId) && f.Method != PayoutMethod.ByHand)
            .GroupBy(f => f.Currency).Select(g => new { g.Key, Sum = g.Sum(f => f.Sum) }).ToDictionary(g => g.Key, g => g.Sum);
        foreach (var c in inFiles.Keys.Union(files.Keys).Order(StringComparer.Ordinal)) yield return new(ProofChecks.RunFiles, "", c, inFiles.GetValueOrDefault(c), files.GetValueOrDefault(c));
        var states = remittances.GroupBy(r => new { r.Currency, r.State }).Select(g => new { g.Key.Currency, g.Key.State, Sum = g.Sum(r => r.Paid) }).ToArray();
        var control = db.Remittances.AsNoTracking().Where(r => runs.Contains(r.RunId)).GroupBy(r => r.Currency)
            .Select(g => new { g.Key, Sum = g.Sum(r => r.Opening + r.Earned + r.Adjustments - r.Recouped - r.Withheld - r.TransferFee - r.Carried) }).ToArray();
        foreach (var c in control.OrderBy(c => c.Key, StringComparer.Ordinal)) yield return new(ProofChecks.RunOutcome, "", c.Key, c.Sum, states.Where(s => s.Currency == c.Key).Sum(s => s.Sum));
    }

    private IEnumerable<ProofLine> Journal(Period month, IEnumerable<DaysSum> sales)
    {
        var sums = new SortedDictionary<string, (long Debit, long Credit)>(StringComparer.Ordinal);
        foreach (var sum in sales)
        {
            // An entry is a cost of the house on one side, and owed to the payee on the other.
            var other = sum.Kind == SealedKind.Entries ? (sum.Credit, sum.Debit) : default;
            var was = sums.GetValueOrDefault(sum.Currency);
            sums[sum.Currency] = (was.Debit + sum.Debit + other.Credit, was.Credit + sum.Credit + other.Debit);
        }
        foreach (var posting in journal.BesideSales(month.FirstDay, month.LastDay).SelectMany(t => t.Postings))
        {
            var worth = posting.Worth ?? posting.Amount;
            var was = sums.GetValueOrDefault(worth.Currency.Code);
            sums[worth.Currency.Code] = worth.Minor > 0 ? (was.Debit + worth.Minor, was.Credit) : (was.Debit, was.Credit - worth.Minor);
        }
        return sums.Select(s => new ProofLine(ProofChecks.Journal, "", s.Key, s.Value.Debit, s.Value.Credit));
    }

    private IEnumerable<ProofLine> Once()
    {
        yield return new(ProofChecks.TakenOnce, "", "", db.EntrySums.Sum(s => s.Entries), db.OpenSums.Sum(s => s.Entries) + db.TakenSums.Sum(s => s.Entries));
        var references = db.Remittances.Where(r => r.EndToEnd != null).Select(r => new { r.EndToEnd, r.RunId, To = r.Through ?? r.Payee }).Distinct();
        yield return new(ProofChecks.References, "", "", references.Count(), references.Select(r => r.EndToEnd).Distinct().Count());
    }
}

/// <summary>What a month came to as it was closed: the closing of each chain.</summary>
public sealed record KeptProof(IReadOnlyDictionary<string, long> Closings)
{
    public static string Key(string check, string payee, string currency) => $"{check} {payee} {currency}";

    public static string Write(ProofView proof)
    {
        var earnings = proof.Earnings.Select(c => (Key(ProofChecks.Earnings, c.Payee, c.Currency), c.Closing));
        return JsonSerializer.Serialize(new KeptProof(earnings.Concat(proof.Carried.Select(c => (Key(ProofChecks.Carried, c.Payee, c.Currency), c.Closing))).ToDictionary()));
    }

    public static KeptProof? Read(string text) => text.Length == 0 ? null : JsonSerializer.Deserialize<KeptProof>(text);
}
