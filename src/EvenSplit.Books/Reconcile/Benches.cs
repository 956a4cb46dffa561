using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Reconcile;

public enum BenchShows { Open, Settled, Agreed, All }

/// <summary>A row of a bench: what they say, what we say, and what becomes of the two.</summary>
/// <param name="Gross">Theirs, minor units of <paramref name="Currency"/>; null where it is ours alone.</param>
/// <param name="GrossOurs">Null where the book has nothing of it, or not in this currency.</param>
public sealed record BenchItem(
    BenchRow Row, DateOnly On, string Type, string Source, string LineId, string Theirs, long? Gross, long Fee, string? Ours, long? GrossOurs, long? FeeOurs, Currency Currency, Finding Findings, MatchState State)
{
    /// <summary>Theirs less ours, net of fees; null where they have no currency in common.</summary>
    public long? Difference => Findings.HasFlag(Finding.CurrencyDiffers) ? null : (Gross ?? 0) - Fee - ((GrossOurs ?? 0) - (FeeOurs ?? 0));

    /// <summary>What it may belong to, the best first.</summary>
    public IReadOnlyList<Suggestion> Suggested { get; init; } = [];
}

/// <summary>Findings of one kind.</summary>
public sealed record FindingGroup(Finding Finding, int Count, IReadOnlyList<Money> Differences);

/// <summary>How a processor's fees compare where they differ.</summary>
/// <param name="Taken">The part of the charged sum that was taken above the fixed fee, on average, as a fraction.</param>
public sealed record FeesTaken(string Processor, Rate Scheduled, Money Fixed, Rate Taken, DateOnly Since, int Sales);

/// <summary>A bench in a month.</summary>
/// <param name="Lines">How many rows there are: lines, and what is late of ours.</param>
/// <param name="Between">What the open rows differ by, per currency.</param>
/// <param name="ToMatch">Orders whose matches are still to be found.</param>
public sealed record BenchView(
    Bench Bench, Period Period, int Lines, int Open, int Settled, IReadOnlyList<Money> Between, IReadOnlyList<FindingGroup> Groups, IReadOnlyList<BenchItem> Rows, int Shown, bool HasMore, int ToMatch);


/// <summary>A row opened: both sides field by field.</summary>
/// <param name="Fields">What it is, theirs, ours, and whether they differ.</param>
/// <param name="Settlings">The latest first, undone ones too.</param>
/// <param name="File">What the line came in with; null of what is ours alone.</param>
public sealed record BenchDetail(
    BenchItem Item, IReadOnlyList<(string Field, string Theirs, string Ours, bool Differs)> Fields, string Reason, IReadOnlyList<SettlingRecord> Settlings, string? Order, bool CanTakeTheirs, long? Differing, ImportRecord? File);

/// <summary>Lists what is held against what, for the pages of the benches.</summary>
public sealed class Benches(BookDbContext db, BookCache cache, BookClock clock, Suggestions suggestions) : IUseCase
{
    private const int MostShown = 200;

    /// <param name="finding">Only rows with this finding; none for any.</param>
    public BenchView Find(Bench bench, Period period, BenchShows shows, Finding finding, int page)
    {
        var ofMonth = OfMonth(bench, period);
        // Nearly all agree, and are counted without being told apart.
        var counts = ofMonth.Where(l => l.State != MatchState.Matched).GroupBy(l => l.State).Select(g => new { g.Key, Count = g.Count() }).ToDictionary(g => g.Key, g => g.Count);
        var days = ofMonth.GroupBy(l => l.On).OrderBy(g => g.Key).Select(g => new LinesOfDay(g.Key, g.Count())).ToArray();
        var lines = days.Sum(d => d.Count);
        var (open, settledLate) = OpenOf(bench, period, ofMonth);
        var (settled, agreed) = (counts.GetValueOrDefault(MatchState.Settled), lines - counts.Values.Sum());
        var list = new PageOfMany(page * MostShown, MostShown + 1);
        var rows = shows switch
        {
            BenchShows.Open => [.. open.Page(finding, page * MostShown, MostShown + 1).Select(Item)],
            BenchShows.Settled => [.. Ordered(ofMonth.Where(l => l.State == MatchState.Settled), list.Next(settled)), .. Settled(settledLate, list)],
            BenchShows.Agreed => Ordered(ofMonth.Where(l => l.State == MatchState.Matched), list.Next(agreed)),
            // What they say first, as it came; then what is late of ours.
            _ => (IReadOnlyList<BenchItem>)[.. InOrder(ofMonth, days, list.Next(lines)), .. Settled(settledLate, list), .. LateOf(open, list)],
        };
        if (finding != Finding.None && shows != BenchShows.Open) rows = [.. rows.Where(i => (i.Findings & finding) != 0)];
        return new BenchView(
            bench, period, settled + agreed + settledLate.Count + open.Count, open.Count, settled + settledLate.Count, open.Between, open.Groups, Suggested([.. rows.Take(MostShown)]), MostShown, rows.Count > MostShown,
            bench == Bench.Processors ? db.OrdersToMatch.OrderBy(o => o.Order).Take(MostShown * 50).Count() : 0);
    }

    /// <summary>What is open in a month by its kind, the most frequent first.</summary>
    public IReadOnlyList<FindingGroup> OpenGroups(Bench bench, Period period) => OpenOf(bench, period, OfMonth(bench, period)).Open.Groups;

    private IQueryable<OutsideLineRecord> OfMonth(Bench bench, Period period)
    {
        var (first, last) = (period.FirstDay, period.LastDay);
        return db.OutsideLines.AsNoTracking().Where(l => l.Bench == bench && l.On >= first && l.On <= last);
    }

    private (OpenRows Open, IReadOnlyList<(AwaitedRecord Ours, Finding Finding)> SettledLate) OpenOf(Bench bench, Period period, IQueryable<OutsideLineRecord> ofMonth)
    {
        var awaited = new LateAwaited(db);
        LateRows[] late = IsUsed(bench) ? [.. awaited.Late(bench, clock.Today, period.FirstDay, period.LastDay)] : [];
        var settledLate = SettledOf(late, [.. awaited.Settlings(bench, clock.Today).Select(s => s.Key)]);
        return (new OpenRows(ofMonth, late, [.. settledLate.Select(s => s.Ours.Ours)]), settledLate);
    }

    /// <summary>Of what is late, what somebody has settled: few, so that they are read by what they are.</summary>
    private static IReadOnlyList<(AwaitedRecord Ours, Finding Finding)> SettledOf(IReadOnlyList<LateRows> late, string[] settled) =>
        settled.Length == 0 ? [] : [.. late.SelectMany(l => l.Rows.AsNoTracking().Where(a => settled.Contains(a.Ours)).OrderBy(a => a.On).AsEnumerable().Select(a => (a, l.Finding)))];

    /// <summary>How many rows of a month are open on all benches.</summary>
    public int Open(Period period) => Enum.GetValues<Bench>().Sum(b => Open(b, period));

    /// <summary>Of one bench.</summary>
    public int Open(Bench bench, Period period) => !IsUsed(bench) ? 0
        : db.OutsideLines.Count(l => l.Bench == bench && l.State == MatchState.Open && l.On >= period.FirstDay && l.On <= period.LastDay) + new LateAwaited(db).Open(bench, clock.Today, period.FirstDay, period.LastDay);

    /// <summary>Whether anything was ever brought in for it. Before that, all of the book would be late.</summary>
    public bool IsUsed(Bench bench) => db.OutsideLines.Any(l => l.Bench == bench);

    /// <summary>The row that comes after one in the list of the open ones; null where nothing is open any more.</summary>
    public string? Next(Bench bench, Period period, Finding finding, string after)
    {
        var rows = Find(bench, period, BenchShows.Open, finding, 0).Rows.Select(r => r.Row.ToString()).ToArray();
        var at = Array.IndexOf(rows, after);
        return rows.Length == 0 ? null : rows[at < 0 || at + 1 >= rows.Length ? 0 : at + 1];
    }

    /// <summary>A row with both sides; null where there is none.</summary>
    public BenchDetail? Open(Bench bench, BenchRow row)
    {
        if (row.Line is { } id)
        {
            if (db.OutsideLines.AsNoTracking().FirstOrDefault(l => l.Id == id && l.Bench == bench) is not { } line) return null;
            var item = Suggested([Item(line)])[0];
            return new BenchDetail(
                item, new BenchFields(db, cache.Get(db)).Of(line), $"{Reason(line)} {(line is { Bench: Bench.Partners, State: MatchState.Open } ? new PartnerReasons(db).Likely(line) : null)}".TrimEnd(), History(s => s.LineId == id), line.Order,
                line is { Bench: Bench.Processors, Kind: MovementKind.Sale, State: MatchState.Open, Ours: not null } && line.Findings.HasFlag(Finding.FeeDiffers), line.Difference,
                db.Imports.AsNoTracking().FirstOrDefault(i => i.Id == line.ImportId));
        }
        if (row.Ours is null || new LateAwaited(db).Find(bench, clock.Today, row.Ours) is not var (ours, finding, isSettled)) return null;
        return new BenchDetail(
            Item(ours, finding, isSettled ? MatchState.Settled : MatchState.Open), new BenchFields(db, cache.Get(db)).Of(ours), finding.InWords(), History(s => s.LineId == null && s.Ours == ours.Ours),
            ours.Order.Length > 0 ? ours.Order : null, false, ours.Fee - ours.Gross, null);
    }

    /// <summary>Where processors' fees differ from their schedules in a month: how much was taken on average.</summary>
    public IReadOnlyList<FeesTaken> Fees(Period period)
    {
        var differing = db.OutsideLines.Where(l => l.Bench == Bench.Processors && l.On >= period.FirstDay && l.On <= period.LastDay && l.State != MatchState.Matched && l.Kind == MovementKind.Sale && (l.Findings & Finding.FeeDiffers) != 0 && l.Gross > 0)
            .OrderBy(l => l.Id).Join(db.Orders, l => l.Order, o => o.OrderId, (l, o) => new { o.Processor, l.Currency, l.Gross, l.Fee, l.On }).Take(20_000).AsEnumerable();
        var rules = cache.Get(db).Rules;
        return [.. differing.GroupBy(l => (l.Processor, l.Currency)).OrderBy(g => g.Key.Processor, StringComparer.Ordinal).Select(g =>
        {
            var since = g.Min(l => l.On);
            if (rules.Processors.FirstOrDefault(p => p.Id.Value == g.Key.Processor)?.On(since) is not { } schedule || schedule.Currency.Code != g.Key.Currency) return null;
            var (fee, gross) = (g.Sum(l => l.Fee) - (g.Count() * schedule.FeeFixed), g.Sum(l => l.Gross));
            return new FeesTaken(g.Key.Processor!, schedule.FeeRate, new Money(schedule.FeeFixed, schedule.Currency), new Rate((fee * 10_000 / gross) * (Rate.One / 10_000)), since, g.Count());
        }).OfType<FeesTaken>()];
    }

    /// <summary>Processors that orders name, with how they are reconciled.</summary>
    public IReadOnlyList<ProcessorBenchRecord> Processors()
    {
        var kept = db.ProcessorBenches.AsNoTracking().ToDictionary(p => p.Processor);
        return [.. db.Processors.AsNoTracking().Select(p => p.Id).OrderBy(p => p).AsEnumerable().Select(p => kept.GetValueOrDefault(p) ?? new ProcessorBenchRecord { Processor = p, SettleWithinDays = LateAwaited.SettleWithin })];
    }

    private IEnumerable<BenchItem> LateOf(OpenRows open, PageOfMany list)
    {
        var (from, rows) = list.Next(open.LateCount);
        return open.LatePage(from, rows).Select(Item);
    }

    private static IEnumerable<BenchItem> Settled(IReadOnlyList<(AwaitedRecord Ours, Finding Finding)> late, PageOfMany list)
    {
        var (from, rows) = list.Next(late.Count);
        return late.Skip(from).Take(rows).Select(l => Item(l.Ours, l.Finding, MatchState.Settled));
    }

    private BenchItem Item(OpenRow row) => row.Line is { } line ? Item(line) : Item(row.Ours!, row.Findings, MatchState.Open);

    /// <summary>A part of all lines by day and id: days before it are passed over by their counts, so that only its own are put in order.</summary>
    private IReadOnlyList<BenchItem> InOrder(IQueryable<OutsideLineRecord> lines, IReadOnlyList<LinesOfDay> days, (int From, int Rows) part)
    {
        var (from, items) = (part.From, new List<BenchItem>());
        foreach (var day in days)
        {
            if (items.Count < part.Rows && from < day.Count) items.AddRange(Ordered(lines.Where(l => l.On == day.On), (from, part.Rows - items.Count)));
            from = Math.Max(0, from - day.Count);
        }
        return items;
    }

    private sealed record LinesOfDay(DateOnly On, int Count);

    private IReadOnlyList<BenchItem> Ordered(IQueryable<OutsideLineRecord> lines, (int From, int Rows) part) => [.. lines.OrderBy(l => l.On).ThenBy(l => l.Id).Skip(part.From).Take(part.Rows).AsEnumerable().Select(Item)];

    private SettlingRecord[] History(System.Linq.Expressions.Expression<Func<SettlingRecord, bool>> of) => [.. db.Settlings.AsNoTracking().Where(of).OrderByDescending(s => s.Id)];

    private BenchItem[] Suggested(BenchItem[] items)
    {
        var ids = items.Where(i => i.State == MatchState.Open && i.Findings.HasFlag(Finding.NotInBook)).Select(i => i.Row.Line).OfType<long>().ToArray();
        var lines = db.OutsideLines.AsNoTracking().Where(l => ids.Contains(l.Id)).ToDictionary(l => l.Id);
        var suggested = suggestions.For([.. lines.Values]).Zip(lines.Keys).ToDictionary(s => s.Second, s => s.First);
        return [.. items.Select(i => i.Row.Line is { } id && suggested.TryGetValue(id, out var some) ? i with { Suggested = some } : i)];
    }

    private BenchItem Item(OutsideLineRecord l) => new(
        new BenchRow(l.Id, null), l.On, l.Bench == Bench.Processors ? l.Kind.ToString().ToLowerInvariant() : l.Bench == Bench.Bank ? l.Gross < 0 ? "debit" : "credit" : l.Reference.Length > 0 ? $"invoice {l.Reference}" : "report", l.Source, l.LineId,
        l.Bench switch
        {
            Bench.Processors => l.Order ?? "",
            Bench.Bank => string.Join(", ", new[] { l.Name, l.Reference, l.Note }.Where(t => t.Length > 0)),
            _ => $"{cache.Get(db).PayeeName(l.Name)}{(l.Order is { } order ? $", {order}" : $", {l.From!.Value.InWords()} to {l.On.InWords()}")}",
        },
        l.Gross, l.Fee, l.Ours, l.GrossOurs, l.FeeOurs, Currency.Of(l.Currency), l.Findings, l.State);

    private static BenchItem Item(AwaitedRecord a, Finding finding, MatchState state) => new(
        new BenchRow(null, a.Ours), a.On, "", a.Source, "", "", null, 0, a.Ours, a.Gross, a.Fee, Currency.Of(a.Currency), finding, state);

    private static string Reason(OutsideLineRecord line) => line.Findings == Finding.None ? "Both sides agree." : $"{char.ToUpperInvariant(line.Findings.InWords()[0])}{line.Findings.InWords()[1..]}.";
}
