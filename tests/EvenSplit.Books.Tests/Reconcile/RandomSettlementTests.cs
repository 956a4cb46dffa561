using System.Globalization;
using EvenSplit.Books.Importing;
using EvenSplit.Books.Model;
using EvenSplit.Books.Reconcile;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Tests;

/// <summary>Random settlements of random books, against section 2 of the contract told line after line over the whole book.</summary>
public sealed class RandomSettlementTests
{
    private static readonly DateOnly SettledOn = new(2027, 6, 1);

    public static TheoryData<int> Seeds => new(Enumerable.Range(900, 14));

    private sealed record Line(string Type, string Order, string Refund, string Currency, long Gross, long Fee);

    [Theory, MemberData(nameof(Seeds))]
    public void A_bench_is_as_the_contract_says(int seed)
    {
        var facts = ScenarioBook.Random(seed, 40);
        var ours = facts.Orders.ToDictionary(o => o.Id.Value, o => Movements.Of(facts.Rules, o, facts.Refunds.Where(r => r.Order == o.Id)));
        var lines = Lines(new Random(seed), facts, ours);
        var expected = Reference(facts, ours, lines);
        using var book = new ScenarioBook(facts);
        var half = lines.Count / 2;
        Import(book, lines, 0, half);
        Import(book, lines, half, lines.Count);
        Assert.Equal(expected, Matches(book));
        // What lines may belong to does not depend on which others are asked about.
        var open = book.Get<BookDbContext, OutsideLineRecord[]>(db => [.. db.OutsideLines.AsNoTracking().OrderBy(l => l.Id)]);
        book.Do<Suggestions>(s => Assert.Equal(open.Select(l => s.For(l)), s.For(open)));
        // The same again, and both files as one, change nothing.
        Import(book, lines, 0, lines.Count);
        Assert.Equal(expected, Matches(book));
        // The check finds the same from nothing, and what is kept otherwise.
        Assert.Equal(0, Differences(book));
        book.Do<BookDbContext>(db => db.OutsideLines.OrderBy(l => l.Id).Where(l => l.Order != null).Take(1).ExecuteUpdate(set => set.SetProperty(l => l.GrossOurs, 1)));
        Assert.Equal(1, Differences(book));
        var awaited = book.Get<BookDbContext, int>(db => db.Awaited.Where(a => a.Bench == Bench.Processors).ExecuteDelete());
        Assert.Equal(1 + awaited, Differences(book));
    }

    private static long Differences(ScenarioBook book) =>
        Assert.Single(book.Get<Checking.BookCheck, Checking.CheckResult>(c => c.Run()).Lines, l => l.Name == "Matches of processors").Differences;

    [Theory, MemberData(nameof(Seeds))]
    public void Lines_that_come_before_their_orders_find_them(int seed)
    {
        var facts = ScenarioBook.Random(seed, 25);
        var ours = facts.Orders.ToDictionary(o => o.Id.Value, o => Movements.Of(facts.Rules, o, facts.Refunds.Where(r => r.Order == o.Id)));
        var lines = Lines(new Random(seed), facts, ours);
        using var book = new ScenarioBook(facts with { Orders = [], Refunds = [], Runs = [], Adjustments = [] });
        Import(book, lines, 0, lines.Count);
        foreach (var order in facts.Orders.OrderBy(o => o.PlacedAt)) book.Take(order);
        Matches(book);
        foreach (var refund in facts.Refunds) book.Take(refund);
        Assert.Equal(Reference(facts, ours, lines), Matches(book));
    }

    [Theory, MemberData(nameof(Seeds))]
    public void Undoing_everything_gives_what_was(int seed)
    {
        var facts = ScenarioBook.Random(seed, 25);
        var ours = facts.Orders.ToDictionary(o => o.Id.Value, o => Movements.Of(facts.Rules, o, facts.Refunds.Where(r => r.Order == o.Id)));
        var lines = Lines(new Random(seed), facts, ours);
        using var book = new ScenarioBook(facts with { Runs = [] });
        Import(book, lines, 0, lines.Count);
        var before = All(book);
        var open = book.Get<BookDbContext, OutsideLineRecord[]>(db => [.. db.OutsideLines.Where(l => l.State == MatchState.Open)]);
        foreach (var line in open)
        {
            if (line is { Kind: MovementKind.Sale, Ours: not null, Findings: Finding.FeeDiffers }) book.Do<TakeTheirs>(t => t.Take([line.Id], "", "Lena"));
            else book.Do<SettleFindings>(s => s.Accept(Bench.Processors, [new BenchRow(line.Id, null)], "so", "Lena"));
        }
        // A fee that is taken can change what of it a refund gives back, and so another line.
        Assert.All(open.Where(l => l.Kind == MovementKind.Sale), l => Assert.Contains(Matches(book), r => r.StartsWith($"{l.LineId} ", StringComparison.Ordinal) && r.Contains(" settled ", StringComparison.Ordinal)));
        foreach (var line in open) book.Do<SettleFindings>(s => s.Undo(Bench.Processors, [new BenchRow(line.Id, null)], "Lena"));
        Assert.Equal(before, All(book));
    }

    private static string[] All(ScenarioBook book) => [.. Matches(book), .. book.Result()["orders"]];

    /// <summary>Most lines as they should be; some twice, wrong, of nobody, or in another currency.</summary>
    private static List<Line> Lines(Random random, Facts facts, Dictionary<string, IReadOnlyList<Movement>> ours)
    {
        var lines = new List<Line>();
        foreach (var order in facts.Orders)
        {
            foreach (var m in ours[order.Id.Value].Where(_ => random.Next(8) != 0))
            {
                var line = new Line(m.Kind.ToString().ToLowerInvariant(), order.Id.Value, random.Next(2) == 0 ? m.Id : "", order.Currency.Code, m.Gross, m.Fee);
                lines.Add(random.Next(6) switch
                {
                    0 => line with { Gross = line.Gross - 7 },
                    1 => line with { Fee = line.Fee + 1 },
                    2 when random.Next(3) == 0 => line with { Currency = line.Currency == "GBP" ? "EUR" : "GBP" },
                    _ => line,
                });
                if (random.Next(10) == 0) lines.Add(line);
            }
            if (random.Next(12) == 0) lines.Add(new Line(random.Next(2) == 0 ? "sale" : "refund", random.Next(2) == 0 ? order.Id.Value : order.Id.Value + "x", "", order.Currency.Code, 1234, 5));
        }
        return [.. lines.OrderBy(_ => random.Next())];
    }

    /// <summary>The rules one after another, over all lines as they come.</summary>
    private static List<string> Reference(Facts facts, Dictionary<string, IReadOnlyList<Movement>> ours, List<Line> lines)
    {
        var taken = new HashSet<(string, string)>();
        var rows = new List<string>();
        for (var i = 0; i < lines.Count; i++)
        {
            var line = lines[i];
            var order = facts.Orders.FirstOrDefault(o => o.Id.Value == line.Order);
            string Row(Movement? m, string findings) => $"{i + 1} {(m is null ? "" : m.Ours(order!.Id))} {(findings.Length == 0 ? "matched" : "open")} {findings}";
            if (order is null || order.IsTest)
            {
                rows.Add(Row(null, "not-in-book"));
                continue;
            }
            if (order.PaidAt is null)
            {
                rows.Add(Row(null, "unpaid-in-book"));
                continue;
            }
            var same = ours[line.Order].Where(m => m.Kind.ToString().Equals(line.Type, StringComparison.OrdinalIgnoreCase)).ToList();
            var free = same.Where(m => !taken.Contains((line.Order, m.Ours(order.Id)))).ToList();
            var named = line.Refund.Length > 0 ? same.Find(m => m.Id == line.Refund) : null;
            if (named is not null && !free.Contains(named)) rows.Add(Row(named, "settled-twice"));
            else if ((named ?? free.Find(m => m.Gross == line.Gross && line.Currency == order.Currency.Code) ?? free.FirstOrDefault()) is { } found)
            {
                taken.Add((line.Order, found.Ours(order.Id)));
                var differs = line.Currency != order.Currency.Code ? "currency-differs" : $"{(line.Gross != found.Gross ? "gross-differs " : "")}{(line.Fee != found.Fee ? "fee-differs" : "")}".Trim();
                rows.Add(Row(found, differs));
            }
            else if (same.Count > 0) rows.Add(Row(same.Find(m => m.Gross == line.Gross) ?? same[0], "settled-twice"));
            else rows.Add(Row(null, "not-in-book"));
        }
        foreach (var (order, movements) in ours)
        {
            rows.AddRange(movements.Select(m => m.Ours(new OrderId(order))).Where(o => !taken.Contains((order, o))).Select(o => $" {o} open not-settled"));
        }
        return [.. rows.Order(StringComparer.Ordinal)];
    }

    private static void Import(ScenarioBook book, List<Line> lines, int from, int to)
    {
        var rows = lines.Skip(from).Take(to - from).Select((l, i) => string.Create(
            CultureInfo.InvariantCulture,
            $"S,{SettledOn:yyyy-MM-dd},{l.Type},{l.Order},{from + i + 1},{l.Refund},{l.Currency},{Major(l.Gross, l.Currency)},{Major(l.Fee, l.Currency)},{Major(l.Gross - l.Fee, l.Currency)}"));
        var csv = "settlement_id,settled_on,type,order_id,reference,refund_id,currency,gross,fee,net\n" + string.Join('\n', rows);
        var id = book.Get<ImportFiles, int>(f => f.QueueAsync(ImportKind.Settlement, "s.csv", new MemoryStream(System.Text.Encoding.UTF8.GetBytes(csv)), "Lena").GetAwaiter().GetResult());
        Assert.Equal((ImportState.Done, 0L), book.Get<ReadImport, (ImportState, long)>(r => r.Run(id) is var read ? (read.State, read.Quarantined) : default));
    }

    private static string Major(long minor, string currency) => new Money(minor, Currency.Of(currency)).ToMajorText();

    /// <summary>As exported, without what is told of the settlement as a whole; a suggestion is no match.</summary>
    private static List<string> Matches(ScenarioBook book)
    {
        using var text = new StringWriter();
        book.Do<MatchesExport>(e => e.Write(Bench.Processors, new DateOnly(2027, 12, 31), text));
        return [.. text.ToString().Split('\n', StringSplitOptions.RemoveEmptyEntries).Skip(1).Select(r => r.Split(',')).Select(Row).Order(StringComparer.Ordinal)];

        static string Row(string[] cells)
        {
            var findings = cells[6].Replace("does-not-add-up", "", StringComparison.Ordinal).Trim();
            var (ours, state) = cells[5] == "suggested" ? ("", "open") : (cells[4], findings.Length == 0 && cells[5] == "open" ? "matched" : cells[5]);
            return $"{cells[2]} {ours} {state} {findings}";
        }
    }
}
