using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Reconcile;

/// <summary>What is late of one source, for one reason; rows that somebody has settled are among them.</summary>
/// <param name="Days">The same as kept by day; null where it is not.</param>
internal sealed record LateRows(Finding Finding, IQueryable<AwaitedRecord> Rows, IQueryable<NotSettledDayRecord>? Days = null);

/// <summary>What should have been shown by a day and was not (reconcile contract: section 2, rule 5; section 3, rule 6; section 4).</summary>
internal sealed class LateAwaited(BookDbContext db)
{
    public const int SettleWithin = 10;
    private const int OnStatementWithin = 5;

    /// <summary>Those that are late on a day, and where somebody has settled that they are.</summary>
    /// <param name="first">Only those due from this day on; likewise the last.</param>
    public IEnumerable<(AwaitedRecord Ours, Finding Finding, SettlingRecord? Settling)> On(Bench bench, DateOnly asOf, DateOnly? first = null, DateOnly? last = null)
    {
        var settlings = Settlings(bench, asOf);
        return Late(bench, asOf, first, last).SelectMany(late => late.Rows.AsNoTracking().AsEnumerable().Select(a => (a, late.Finding, settlings[a.Ours].FirstOrDefault())));
    }

    /// <summary>One of them, and whether somebody has settled that it is late; null where it is not late.</summary>
    public (AwaitedRecord Ours, Finding Finding, bool IsSettled)? Find(Bench bench, DateOnly asOf, string ours)
    {
        foreach (var late in Late(bench, asOf, null, null))
        {
            if (late.Rows.AsNoTracking().FirstOrDefault(a => a.Ours == ours) is { } found) return (found, late.Finding, Settlings(bench, asOf).Contains(ours));
        }
        return null;
    }

    /// <summary>How somebody has settled that something is late, by what is late.</summary>
    public ILookup<string, SettlingRecord> Settlings(Bench bench, DateOnly asOf) =>
        db.Settlings.AsNoTracking().Where(s => s.Bench == bench && s.LineId == null && s.UndoneBy == null).AsEnumerable().Where(s => s.Until is not { } until || until >= asOf).ToLookup(s => s.Ours!);

    /// <summary>How many of them are open.</summary>
    public int Open(Bench bench, DateOnly asOf, DateOnly first, DateOnly last) =>
        Late(bench, asOf, first, last).Sum(q => (int?)q.Days?.Sum(d => d.Rows) ?? q.Rows.Count())
        - db.Settlings.Where(s => s.Bench == bench && s.LineId == null && s.UndoneBy == null && (s.Until == null || s.Until >= asOf) && db.Awaited.Any(a => a.Bench == bench && a.Ours == s.Ours && a.On >= first && a.On <= last)).Select(s => s.Ours).Distinct().Count();

    /// <summary>The rows of each source that are late, to be counted, summed or read.</summary>
    public IEnumerable<LateRows> Late(Bench bench, DateOnly asOf, DateOnly? first, DateOnly? last)
    {
        foreach (var source in Sources(bench))
        {
            var rows = db.Awaited.Where(a => a.Bench == bench && a.Source == source);
            if (first is { } earliest) rows = rows.Where(a => a.On >= earliest);
            if (last is { } latest) rows = rows.Where(a => a.On <= latest);
            if (bench == Bench.Partners)
            {
                yield return new(Finding.OnlyOurs, rows);
                continue;
            }
            DateOnly? before = bench == Bench.Processors ? asOf.AddDays(-(db.ProcessorBenches.Find(source)?.SettleWithinDays ?? SettleWithin)) : StatementsReach(source, asOf);
            if (before is not { } day) continue;
            rows = rows.Where(a => a.On < day);
            if (bench == Bench.Processors)
            {
                var (from, to) = (first ?? DateOnly.MinValue, last ?? DateOnly.MaxValue);
                yield return new(Finding.NotSettled, rows, db.NotSettledDays.Where(d => d.Processor == source && d.On >= from && d.On <= to && d.On < day));
            }
            else
            {
                yield return new(Finding.NotOnStatement, rows.Where(a => a.Kind != MovementKind.Payout));
                yield return new(Finding.PayoutMissing, rows.Where(a => a.Kind == MovementKind.Payout));
            }
        }
    }

    /// <summary>Each by a step in the index, so that it costs what the sources are, not what they await.</summary>
    private IEnumerable<string> Sources(Bench bench)
    {
        for (var last = db.Awaited.Where(a => a.Bench == bench).Min(a => a.Source); last is not null; last = Next(last)) yield return last;

        string? Next(string after) => db.Awaited.Where(a => a.Bench == bench && string.Compare(a.Source, after) > 0).Min(a => a.Source);
    }

    /// <summary>What left before this day should stand on a statement; null where there is none of the account.</summary>
    private DateOnly? StatementsReach(string account, DateOnly asOf)
    {
        var reach = db.BankStatements.Where(s => account == "" || s.Account == account).Max(s => (DateOnly?)s.Last);
        return reach is { } last ? (last < asOf ? last : asOf).AddDays(-OnStatementWithin) : null;
    }
}
