using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Reconcile;

/// <summary>A row that is open: a line of theirs, or something of ours that no line has shown.</summary>
internal readonly record struct OpenRow(OutsideLineRecord? Line, AwaitedRecord? Ours, Finding Findings);

/// <summary>
/// What is open on a bench in some days: counted and summed by the database, and read a page at a time, so that it costs what a page has, however much is open. The most frequent finding comes first, within it
/// the earliest row; of what is late of ours, source by source.
/// </summary>
internal sealed class OpenRows
{
    /// <summary>Rows with the same findings, in one currency.</summary>
    private sealed record Sum(Finding Findings, string Currency, int Count, long Difference);

    /// <summary>What is late of one source, less what somebody has settled.</summary>
    private sealed record Late(LateRows Rows, IReadOnlyList<Sum> Sums)
    {
        public int Count => Sums.Sum(s => s.Count);
    }

    private readonly IQueryable<OutsideLineRecord> _lines;
    private readonly string[] _settled;
    private readonly Sum[] _ofLines;
    private readonly Late[] _late;

    public OpenRows(IQueryable<OutsideLineRecord> lines, IReadOnlyList<LateRows> late, IReadOnlyCollection<string> settled)
    {
        _lines = lines.Where(l => l.State == MatchState.Open);
        _settled = [.. settled];
        _ofLines =
        [
            .. _lines.GroupBy(l => new { l.Findings, l.Currency }).Select(g => new Sum(
                g.Key.Findings, g.Key.Currency, g.Count(), g.Sum(l => (l.Findings & Finding.CurrencyDiffers) != 0 ? 0 : l.Gross - l.Fee - ((l.GrossOurs ?? 0) - (l.FeeOurs ?? 0))))),
        ];
        _late =
        [
            .. late.Select(r => new Late(r, [.. SumsOf(r)])),
        ];
        Groups =
        [
            .. All.SelectMany(s => s.Findings.Each().Select(f => (Finding: f, Sum: s))).GroupBy(f => f.Finding).Select(g => new FindingGroup(g.Key, g.Sum(f => f.Sum.Count), Differences(g.Select(f => f.Sum))))
                .OrderByDescending(g => g.Count).ThenBy(g => g.Finding),
        ];
    }

    private IEnumerable<Sum> All => _ofLines.Concat(_late.SelectMany(l => l.Sums));

    public int Count => All.Sum(s => s.Count);

    /// <summary>How many of them are ours that no line has shown.</summary>
    public int LateCount => _late.Sum(l => l.Count);

    /// <summary>What they differ by, per currency.</summary>
    public IReadOnlyList<Money> Between => Differences(All);

    /// <summary>The most frequent first.</summary>
    public IReadOnlyList<FindingGroup> Groups { get; }

    /// <param name="finding">Only rows with this finding; none for any.</param>
    public IReadOnlyList<OpenRow> Page(Finding finding, int skip, int take)
    {
        var page = new PageOfMany(skip, take);
        var rows = new List<OpenRow>();
        foreach (var group in Groups)
        {
            var kinds = _ofLines.Where(s => First(s.Findings) == group.Finding && IsWanted(s.Findings)).Select(s => s.Findings).Distinct().ToArray();
            var (from, some) = page.Next(_ofLines.Where(s => kinds.Contains(s.Findings)).Sum(s => s.Count));
            if (some > 0) rows.AddRange(_lines.Where(l => kinds.Contains(l.Findings)).OrderBy(l => l.On).ThenBy(l => l.Id).Skip(from).Take(some).AsEnumerable().Select(l => new OpenRow(l, null, l.Findings)));
            foreach (var late in _late.Where(l => l.Rows.Finding == group.Finding && IsWanted(l.Rows.Finding))) rows.AddRange(Of(late, page));
        }
        return rows;

        bool IsWanted(Finding findings) => finding == Finding.None || (findings & finding) != 0;
    }

    /// <summary>What is late of ours alone.</summary>
    public IReadOnlyList<OpenRow> LatePage(int skip, int take)
    {
        var page = new PageOfMany(skip, take);
        return [.. _late.SelectMany(late => Of(late, page))];
    }

    private IEnumerable<OpenRow> Of(Late late, PageOfMany page)
    {
        var (from, some) = page.Next(late.Count);
        return some == 0 ? [] : Unsettled(late.Rows).OrderBy(a => a.On).ThenBy(a => a.Ours).Skip(from).Take(some).AsEnumerable().Select(a => new OpenRow(null, a, late.Rows.Finding));
    }

    /// <summary>From what is kept by day, less what is settled; else from the rows.</summary>
    private IEnumerable<Sum> SumsOf(LateRows late)
    {
        if (late.Days is null) return Unsettled(late).GroupBy(a => a.Currency).Select(g => new Sum(late.Finding, g.Key, g.Count(), g.Sum(a => a.Fee - a.Gross)));
        AwaitedRecord[] known = _settled.Length == 0 ? [] : [.. late.Rows.AsNoTracking().Where(a => _settled.Contains(a.Ours))];
        var settled = known.ToLookup(a => a.Currency);
        return late.Days.GroupBy(d => d.Currency).Select(g => new { g.Key, Rows = g.Sum(d => d.Rows), Amount = g.Sum(d => d.Amount) }).AsEnumerable()
            .Select(d => new Sum(late.Finding, d.Key, (int)d.Rows - settled[d.Key].Count(), settled[d.Key].Sum(a => a.Gross - a.Fee) - d.Amount)).Where(s => s.Count > 0);
    }

    private Finding First(Finding findings) => Groups.FirstOrDefault(g => findings.HasFlag(g.Finding))?.Finding ?? Finding.None;

    private IQueryable<AwaitedRecord> Unsettled(LateRows late) => _settled.Length == 0 ? late.Rows.AsNoTracking() : late.Rows.AsNoTracking().Where(a => !_settled.Contains(a.Ours));

    private static IReadOnlyList<Money> Differences(IEnumerable<Sum> sums) =>
        [.. sums.GroupBy(s => s.Currency).OrderBy(g => g.Key, StringComparer.Ordinal).Select(g => new Money(g.Sum(s => s.Difference), Currency.Of(g.Key))).Where(m => m.Minor != 0)];
}
