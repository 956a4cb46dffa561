using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.PayRuns;

/// <summary>One entry on a statement.</summary>
public sealed record StatementLine(long EntryId, string OrderId, string Product, string AgreementId, string Agreement, EntryPart Part, bool IsReversal, DateOnly PostedOn, Money Amount);

/// <summary>What one payee is told about one run. Nothing that only concerns the house is on it.</summary>
public sealed record Statement(
    string BookName,
    int RunId,
    DateOnly AsOf,
    RunState RunState,
    RunRow Payee,
    IReadOnlyList<StatementLine> Lines,
    IReadOnlyList<(AdjustmentKind Kind, DateOnly On, string Note, Money Amount)> Adjustments)
{
    /// <summary>As <see cref="PayRunRecord.OnePerson"/>.</summary>
    public string? OnePerson { get; init; }

    /// <summary>How many entries the run took, be they all among the lines or not.</summary>
    public required long Count { get; init; }

    /// <summary>The entries' sums in the currencies they were earned in, before conversion, and what of each takes back (0 or below).</summary>
    public required IReadOnlyList<(Money Sum, Money Reversed)> Earned { get; init; }

    public IReadOnlyList<Money> EarnedByCurrency => [.. Earned.Select(e => e.Sum)];
}

/// <summary>Makes statements of locked runs.</summary>
public sealed class Statements(BookDbContext db, BookCache cache, Invoices invoices) : IUseCase
{
    /// <param name="most">How many lines at most, those that cleared first; null for all.</param>
    /// <returns>Null where the run is not locked or the payee is not in it.</returns>
    public Statement? Find(int runId, string payee, int? most = null)
    {
        var run = db.PayRuns.AsNoTracking().FirstOrDefault(r => r.Id == runId);
        var remittance = db.Remittances.AsNoTracking().FirstOrDefault(r => r.RunId == runId && r.Payee == payee);
        if (run is null || remittance is null) return null;
        var book = cache.Get(db);
        var sums = db.TakenSums.AsNoTracking().Where(s => s.RunId == runId && s.Payee == payee).ToArray();
        // Nothing that cleared before is in the run.
        var from = sums.Length == 0 ? run.AsOf : sums.Min(s => s.ClearsOn);
        var entries = db.EntriesOf(run, payee).AsNoTracking().Where(e => e.ClearsOn >= from).OrderBy(e => e.ClearsOn).ThenBy(e => e.Id);
        var lines = (most is { } limit ? entries.Take(limit) : entries)
            .Join(db.Orders, e => e.OrderId, o => o.Id, (e, o) => new { Entry = e, o.OrderId })
            .Join(db.OrderLines, e => new { e.Entry.OrderId, Number = e.Entry.LineNumber }, l => new { l.OrderId, l.Number }, (e, l) => new { e.Entry, e.OrderId, l.Product })
            .OrderBy(e => e.Entry.PostedOn).ThenBy(e => e.Entry.Id)
            .AsEnumerable()
            .Select(e => new StatementLine(
                e.Entry.Id, e.OrderId, book.ProductName(e.Product), e.Entry.Agreement, book.AgreementName(e.Entry.Agreement), e.Entry.Part, e.Entry.Amount < 0,
                e.Entry.PostedOn, new Money(e.Entry.Amount, Currency.Of(e.Entry.Currency))))
            .ToArray();
        var adjustments = db.Adjustments.AsNoTracking().Where(a => a.RunId == runId && a.Payee == payee).OrderBy(a => a.On)
            .AsEnumerable().Select(a => (a.Kind, a.On, a.Note, new Money(a.Amount, Currency.Of(a.Currency)))).ToArray();
        var row = PayRunDesk.ToRow(remittance) with
        {
            Name = book.PayeeName(payee),
            Role = book.Rules.Payee(new PayeeId(payee)).Role,
            Through = remittance.Through is { } through ? book.PayeeName(through) : null,
            Invoices = [.. invoices.Of(runId)[payee]],
        };
        return new Statement(book.Record.Name, runId, run.AsOf, run.State, row, lines, adjustments)
        {
            OnePerson = run.OnePerson,
            Count = sums.Sum(s => s.Entries),
            Earned = [.. sums.GroupBy(s => s.Currency).OrderBy(g => g.Key, StringComparer.Ordinal)
                .Select(g => (new Money(g.Sum(s => s.Amount), Currency.Of(g.Key)), new Money(g.Sum(s => s.Reversed), Currency.Of(g.Key))))],
        };
    }
}
