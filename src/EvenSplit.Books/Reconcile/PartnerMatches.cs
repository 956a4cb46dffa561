using System.Globalization;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Reconcile;

/// <summary>Holds what partners say payees have earned against what was posted for them (reconcile contract, section 4).</summary>
internal sealed class PartnerMatches(BookDbContext db, DateOnly today)
{
    /// <summary>Finds matches again, inside the caller's transaction: all of them, or those of what has changed and of what was posted since.</summary>
    public void Find(BenchStateRecord state)
    {
        var last = db.Entries.Max(e => (long?)e.Id) ?? 0;
        var (lines, reports) = state.IsToMatch ? Everything() : Reached(state.UpToEntry);
        (state.IsToMatch, state.UpToEntry) = (false, last);
        Hold(lines);
        foreach (var report in reports) OnlyOurs(report);
        db.BenchToMatch.Where(c => c.Kind > BenchChange.Settlement).ExecuteDelete();
        db.SaveChanges();
    }

    /// <summary>Finds all anew and tells where what is kept is otherwise; changes nothing.</summary>
    public (int Compared, IReadOnlyList<MatchDifference> Differences) Compare()
    {
        var lines = Lines.AsNoTracking().ToArray();
        var kept = Array.ConvertAll(lines, MatchDifference.Words);
        Hold(lines);
        var differences = lines.Select((line, i) => new MatchDifference(MatchDifference.NameOf(line), kept[i], MatchDifference.Words(line))).Where(d => d.Kept != d.Found).ToList();
        var awaited = db.Awaited.AsNoTracking().Where(a => a.Bench == Bench.Partners).ToArray();
        differences.AddRange(MatchDifference.Between(awaited, lines.GroupBy(l => l.Source).SelectMany(g => Lacked(g.Key, [.. g]))));
        return (lines.Length + awaited.Length, differences);
    }

    private void Hold(OutsideLineRecord[] lines)
    {
        var ids = lines.Select(l => l.Id).ToArray();
        var settlings = db.Settlings.AsNoTracking().Where(s => s.LineId != null && ids.Contains(s.LineId.Value)).ToLookup(s => s.LineId!.Value);
        foreach (var line in lines)
        {
            var ours = Ours(line);
            var differs = line.Gross - ours;
            var tolerance = Tolerance(line.Source);
            var findings = Math.Abs(differs) <= tolerance ? Finding.None : ours == 0 ? Finding.OnlyTheirs : Finding.Differs;
            line.Set(ours == 0 ? null : OursOf(line), ours == 0 ? null : ours, null, findings, settlings[line.Id], today);
        }
    }

    private IQueryable<OutsideLineRecord> Lines => db.OutsideLines.Where(l => l.Bench == Bench.Partners);

    private (OutsideLineRecord[] Lines, string[] Reports) Everything() => ([.. Lines], [.. Lines.Select(l => l.Source).Distinct()]);

    /// <summary>Lines that are new, settled or read otherwise, lines of which something was posted, and reports that may lack what was.</summary>
    private (OutsideLineRecord[] Lines, string[] Reports) Reached(long upTo)
    {
        var changes = db.BenchToMatch.AsNoTracking().Where(c => c.Kind > BenchChange.Settlement).ToArray();
        var changed = changes.Where(c => c.Kind == BenchChange.PartnerLine).Select(c => long.Parse(c.Name, CultureInfo.InvariantCulture)).ToArray();
        var reread = changes.Where(c => c.Kind == BenchChange.Report).Select(c => c.Name).ToArray();
        var lines = Lines.Where(l => changed.Contains(l.Id) || reread.Contains(l.Source)).ToDictionary(l => l.Id);
        var reports = lines.Values.Select(l => l.Source).ToHashSet(StringComparer.Ordinal);
        var posted = db.Entries.Where(e => e.Id > upTo).GroupBy(e => e.Payee).Select(g => new { Payee = g.Key, First = g.Min(e => e.PostedOn), Last = g.Max(e => e.PostedOn) }).ToArray();
        if (posted.Length > 0)
        {
            var (payees, first, until) = (posted.Select(p => p.Payee).ToArray(), posted.Min(p => p.First), posted.Max(p => p.Last));
            var ofOrders = from e in db.Entries
                           where e.Id > upTo
                           join o in db.Orders on e.OrderId equals o.Id
                           join l in db.OutsideLines on o.OrderId equals l.Order
                           where l.Bench == Bench.Partners && l.Name == e.Payee
                           select l;
            foreach (var line in ofOrders.Distinct()) lines[line.Id] = line;
            foreach (var line in Lines.Where(l => l.Order == null && l.On >= first && l.From <= until && payees.Contains(l.Name))) lines[line.Id] = line;
            reports.UnionWith(Lines.Where(l => l.Order != null && l.On >= first && payees.Contains(l.Name)).Select(l => l.Source).Distinct());
        }
        return ([.. lines.Values], [.. reports]);
    }

    /// <summary>What the book has posted for what a line is about.</summary>
    private long Ours(OutsideLineRecord line) => line.Order is { } order
        ? db.Entries.Where(e => e.Payee == line.Name && e.Currency == line.Currency && e.PostedOn <= line.On && db.Orders.Any(o => o.Id == e.OrderId && o.OrderId == order)).Sum(e => e.Amount)
        : db.Entries.Where(e => e.Payee == line.Name && e.Currency == line.Currency && e.PostedOn >= line.From && e.PostedOn <= line.On).Sum(e => e.Amount);

    private static string OursOf(OutsideLineRecord line) => line.Order is { } order ? $"earned:{line.Name}:{order}" : $"earned:{line.Name}:{line.From:yyyy-MM-dd}..{line.On:yyyy-MM-dd}";

    /// <summary>In minor units, as it was set for the report.</summary>
    private long Tolerance(string report) => db.PartnerReports.AsNoTracking().FirstOrDefault(r => r.Report == report)?.Tolerance ?? 0;

    private void OnlyOurs(string report)
    {
        var lines = Lines.AsNoTracking().Where(l => l.Source == report).ToArray();
        foreach (var old in db.Awaited.Where(a => a.Bench == Bench.Partners && a.Source == report).ToArray()) db.Awaited.Remove(old);
        db.SaveChanges();
        db.Awaited.AddRange(Lacked(report, lines));
    }

    /// <summary>Of a report whose lines name orders: orders of its payees and days for which something was posted and which it lacks.</summary>
    private IEnumerable<AwaitedRecord> Lacked(string report, OutsideLineRecord[] lines)
    {
        if (lines.Length == 0 || lines.Any(l => l.Order is null)) yield break;
        foreach (var span in lines.GroupBy(l => (l.Name, l.Currency)))
        {
            var (from, to) = (span.Min(l => l.From!.Value), span.Max(l => l.On));
            var missing = db.Entries.Where(e => e.Payee == span.Key.Name && e.Currency == span.Key.Currency && e.PostedOn >= from && e.PostedOn <= to)
                .Join(db.Orders, e => e.OrderId, o => o.Id, (e, o) => new { o.OrderId, e.Amount, e.PostedOn }).GroupBy(e => e.OrderId)
                .Select(g => new { g.Key, Sum = g.Sum(e => e.Amount), On = g.Max(e => e.PostedOn) }).AsEnumerable().ExceptBy(span.Select(l => l.Order!), o => o.Key).Where(o => o.Sum != 0);
            foreach (var o in missing)
            {
                yield return new AwaitedRecord
                {
                    Bench = Bench.Partners,
                    // Several reports may lack the same order.
                    Ours = $"earned:{span.Key.Name}:{o.Key}:{report}",
                    On = o.On,
                    Order = o.Key,
                    Source = report,
                    Currency = span.Key.Currency,
                    Gross = o.Sum,
                    Name = span.Key.Name,
                };
            }
        }
    }
}
