using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.PayRuns;

/// <summary>A run in the list of runs.</summary>
public sealed record RunSummary(int Id, DateOnly AsOf, RunState State, string PreparedBy, string? ApprovedBy, IReadOnlyList<Money> Paid, int Payees, int Unpaid);

/// <summary>Shows pay runs: gathering ones as they would be now, locked ones as they were locked.</summary>
public sealed class PayRunDesk(BookDbContext db, BookCache cache) : IUseCase
{
    public IReadOnlyList<RunSummary> List()
    {
        var sums = db.Remittances.Where(r => r.Paid > 0).GroupBy(r => new { r.RunId, r.Currency })
            .Select(g => new { g.Key.RunId, g.Key.Currency, Paid = g.Sum(r => r.Paid), Payees = g.Count(), Unpaid = g.Count(r => r.State == RemittanceState.Ready) })
            .AsEnumerable().ToLookup(s => s.RunId);
        return db.PayRuns.AsNoTracking().OrderByDescending(r => r.AsOf).ThenByDescending(r => r.Id).AsEnumerable()
            .Select(run => new RunSummary(
                run.Id, run.AsOf, run.State, run.PreparedBy, run.ApprovedBy,
                sums[run.Id].OrderBy(s => s.Currency, StringComparer.Ordinal).Select(s => new Money(s.Paid, Currency.Of(s.Currency))).ToArray(),
                sums[run.Id].Sum(s => s.Payees), sums[run.Id].Sum(s => s.Unpaid)))
            .ToArray();
    }

    public RunView? Find(int id)
    {
        var run = db.PayRuns.AsNoTracking().Include(r => r.Remittances).FirstOrDefault(r => r.Id == id);
        if (run is null) return null;
        var book = cache.Get(db);
        var rows = run.State == RunState.Gathering
            ? Gathered(db, book, run).Select(r => new RunRow(null, r.Payee.Value, "", default, r, RemittanceState.Ready, null, null))
            : run.Remittances.Select(ToRow);
        return new RunView(
            run.Id, run.AsOf, run.State, run.PreparedBy, run.LockedBy, run.LockedAt, run.ApprovedBy, run.ApprovedAt,
            rows.Select(r => r with { Name = book.PayeeName(r.Payee), Role = book.Rules.Payee(new PayeeId(r.Payee)).Role })
                .OrderByDescending(r => r.HasFigures).ThenBy(r => r.Name, StringComparer.Ordinal).ToArray());
    }

    internal static IEnumerable<Remittance> Gathered(BookDbContext db, OpenedBook book, PayRunRecord run) =>
        Standings.Of(db, book, run.AsOf, run.Payees).Select(standing => PayRun.WorkOut(book.Rules.Rates, run.AsOf, standing));

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
        record.State, record.PaidOn, record.Reference);
}
