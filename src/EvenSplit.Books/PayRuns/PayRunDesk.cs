using EvenSplit.Books.Balances;
using EvenSplit.Books.Model;
using EvenSplit.Books.Payouts;
using EvenSplit.Books.People;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.PayRuns;

/// <summary>A run in the list of runs.</summary>
public sealed record RunSummary(int Id, DateOnly AsOf, RunState State, string PreparedBy, string? ApprovedBy, IReadOnlyList<Money> Paid, int Payees, int Unpaid)
{
    /// <summary>How many payees it serves; null for everyone.</summary>
    public int? For { get; init; }

    /// <summary>Payments that were refused or returned.</summary>
    public int CameBack { get; init; }

    /// <summary>All payments in one currency; null where there is none.</summary>
    public Money? PaidIn(Currency currency) => Paid.Where(m => m.Currency == currency).Select(m => (Money?)m).FirstOrDefault();
}

/// <summary>Shows pay runs: gathering ones as they would be now, locked ones as they were locked.</summary>
public sealed class PayRunDesk(BookDbContext db, BookCache cache, BookClock clock, RefundRates refunds, Destinations destinations, Invoices invoices) : IUseCase
{
    public IReadOnlyList<RunSummary> List()
    {
        var sums = db.Remittances.Where(r => r.Paid > 0).GroupBy(r => new { r.RunId, r.Currency })
            .Select(g => new { g.Key.RunId, g.Key.Currency, Paid = g.Sum(r => r.Paid), Payees = g.Count(), Unpaid = g.Count(r => r.State == RemittanceState.Ready || r.State == RemittanceState.Sent), CameBack = g.Count(r => r.State == RemittanceState.Refused || r.State == RemittanceState.Returned) })
            .AsEnumerable().ToLookup(s => s.RunId);
        return db.PayRuns.AsNoTracking().OrderByDescending(r => r.AsOf).ThenByDescending(r => r.Id).AsEnumerable()
            .Select(run => new RunSummary(
                run.Id, run.AsOf, run.State, run.PreparedBy, run.ApprovedBy,
                sums[run.Id].OrderBy(s => s.Currency, StringComparer.Ordinal).Select(s => new Money(s.Paid, Currency.Of(s.Currency))).ToArray(),
                sums[run.Id].Sum(s => s.Payees), sums[run.Id].Sum(s => s.Unpaid))
            {
                For = run.Payees?.Count,
                CameBack = sums[run.Id].Sum(s => s.CameBack),
            })
            .ToArray();
    }

    public bool Exists(int id) => db.PayRuns.Any(r => r.Id == id);

    public RunView? Find(int id)
    {
        var run = db.PayRuns.AsNoTracking().Include(r => r.Remittances).FirstOrDefault(r => r.Id == id);
        if (run is null) return null;
        var book = cache.Get(db);
        if (run.State == RunState.Gathering) return Gathered(book, run, Standings.Of(db, book, run.AsOf, run.Payees), run.AsOf);
        var marks = db.RunMarks.AsNoTracking().Where(m => m.RunId == id).AsEnumerable().ToLookup(m => m.Payee);
        var shown = db.PayoutDetails.AsNoTracking().Where(d => db.Remittances.Any(r => r.RunId == id && r.DetailsId == d.Id)).Select(d => new { d.Id, d.Shown }).ToDictionary(d => d.Id, d => d.Shown);
        var last = LastPaid(id);
        var reversed = Reversed(book, db.TakenSums.Where(s => s.RunId == id), run.AsOf);
        var noted = invoices.Of(id);
        return View(book, run, run.Remittances.Select(r => ToRow(r) with
        {
            Marks = marks[r.Payee].OrderBy(m => m.Mark).ToArray(),
            Shown = r.DetailsId is { } details ? shown[details] : null,
            Through = r.Through is { } through ? book.PayeeName(through) : null,
            Invoices = [.. noted[r.Payee]],
            Reversed = reversed.GetValueOrDefault(r.Payee),
            LastPaid = last.TryGetValue(r.Payee, out var paid) ? paid : null,
        }));
    }

    /// <summary>What a run as of any date would find, ahead of today too: what will have cleared by then, at the latest rates known. Nothing is taken.</summary>
    /// <param name="payees">Null for everyone.</param>
    public RunView Preview(DateOnly asOf, IReadOnlyList<string>? payees)
    {
        var book = cache.Get(db);
        var run = new PayRunRecord { AsOf = asOf, Reference = "", PreparedBy = "", Payees = payees?.ToList() };
        return Gathered(book, run, Standings.Of(db, book, asOf, payees), asOf > clock.Today ? clock.Today : asOf);
    }

    private RunView Gathered(OpenedBook book, PayRunRecord run, IReadOnlyList<PayeeStanding> standings, DateOnly ratesOn)
    {
        var remittances = standings.Select(s => PayRun.WorkOut(book.Rules.Rates, run.AsOf, s, ratesOn)).ToArray();
        var goes = destinations.On(clock.Today);
        var marks = RunMarks.Of(db, refunds.Over(Period.Of(run.AsOf)), goes, run.AsOf, remittances).ToLookup(m => m.Payee);
        var last = LastPaid(run.Id == 0 ? int.MaxValue : run.Id);
        var reversed = Reversed(book, db.OpenSums.Where(s => s.ClearsOn <= run.AsOf), ratesOn);
        return View(book, run, remittances.Select(r => new RunRow(null, r.Payee.Value, "", default, r, RemittanceState.Ready, null, null)
        {
            Marks = marks[r.Payee.Value].ToArray(),
            Method = goes[r.Payee.Value].Method,
            Shown = goes[r.Payee.Value].Details?.Shown,
            Through = goes[r.Payee.Value].Through is { } through ? book.PayeeName(through) : null,
            Reversed = r.TakesEntries ? reversed.GetValueOrDefault(r.Payee.Value) : 0,
            LastPaid = last.TryGetValue(r.Payee.Value, out var paid) ? paid : null,
        }));
    }

    private RunView View(OpenedBook book, PayRunRecord run, IEnumerable<RunRow> rows) => new(
        run.Id, run.AsOf, run.State, run.PreparedBy, run.LockedBy, run.LockedAt, run.ApprovedBy, run.ApprovedAt,
        rows.Select(r => r with { Name = book.PayeeName(r.Payee), Role = book.Rules.Payee(new PayeeId(r.Payee)).Role })
            .OrderByDescending(r => r.HasFigures).ThenBy(r => r.Name, StringComparer.Ordinal).ToArray())
    {
        IsForSome = run.Payees is not null,
        IssuedAt = run.IssuedAt,
        OnePerson = run.OnePerson,
        Rates = run.State == RunState.Gathering ? [] : db.RunRates.AsNoTracking().Where(r => r.RunId == run.Id).OrderBy(r => r.From).ThenBy(r => r.To).ToArray(),
    };

    /// <summary>By payee, what is taken back in the payout currency.</summary>
    private static Dictionary<string, long> Reversed(OpenedBook book, IQueryable<ClearingSum> sums, DateOnly ratesOn) => sums
        .GroupBy(s => new { s.Payee, s.Currency }).Select(g => new { g.Key.Payee, g.Key.Currency, Sum = g.Sum(s => s.Reversed) }).AsEnumerable()
        .GroupBy(s => s.Payee).ToDictionary(g => g.Key, g =>
        {
            var paidIn = book.Rules.Payee(new PayeeId(g.Key)).PayoutCurrency;
            return g.Sum(s => book.Rules.Rates.Convert(s.Sum, Currency.Of(s.Currency), paidIn, ratesOn) ?? 0);
        });

    /// <summary>By payee, what the latest locked run before another one paid.</summary>
    private Dictionary<string, long> LastPaid(int before) => db.Remittances.AsNoTracking()
        .Where(r => r.RunId < before && r.Id == db.Remittances.Where(o => o.Payee == r.Payee && o.RunId < before).Max(o => o.Id))
        .Select(r => new { r.Payee, r.Paid }).ToDictionary(r => r.Payee, r => r.Paid);

    internal static IEnumerable<(string Currency, int Payments, long Paid)> Control(BookDbContext db, int id) => db.Remittances
        .Where(r => r.RunId == id && r.Paid > 0 && r.State != RemittanceState.SetAside).GroupBy(r => r.Currency)
        .Select(g => new { g.Key, Count = g.Count(), Sum = g.Sum(r => r.Paid) }).AsEnumerable().Select(g => (g.Key, g.Count, g.Sum));

    internal static RunRow ToRow(RemittanceRecord record) => new(
        record.Id, record.Payee, "", default,
        new Remittance
        {
            Payee = new PayeeId(record.Payee),
            Currency = Currency.Of(record.Currency),
            Opening = record.Opening,
            Earned = record.Earned,
            Adjustments = record.Adjustments,
            Recouped = record.Recouped,
            Withheld = record.Withheld,
            TransferFee = record.TransferFee,
            Paid = record.Paid,
            Carried = record.Carried,
            Reason = record.Reason,
        },
        record.State, record.PaidOn, record.Reference)
    {
        Method = record.Method,
        Why = record.Why,
        HasEvidence = record.Evidence is not null,
        IsInFile = record.FileId is not null,
        ExecuteOn = record.ExecuteOn,
    };
}
