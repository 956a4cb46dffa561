using System.Text.Json;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Reconcile;

/// <summary>Something of ours that an open line may belong to.</summary>
/// <param name="Ours">Several with + between.</param>
/// <param name="Sureness">From 0 to 100; only what is the same in everything that can be compared has 100.</param>
/// <param name="Why">For a reader.</param>
public sealed record Suggestion(string Ours, DateOnly On, Money Amount, string Name, int Sureness, string Why);

/// <summary>Finds what open lines of processors and banks may belong to (reconcile contract, sections 2 and 3). Nothing is taken by itself.</summary>
public sealed class Suggestions(BookDbContext db, BookCache cache) : IUseCase
{
    private const int DaysAtProcessor = 3;
    private const int DaysAtBank = 5;
    /// <summary>Of which sums are tried.</summary>
    private const int MostCandidates = 40;
    private const int MostOfSum = 4;
    private const int MostShown = 5;

    /// <summary>The best first; none for a line that is no finding of <see cref="Finding.NotInBook"/>.</summary>
    public IReadOnlyList<Suggestion> For(OutsideLineRecord line) => For([line])[0];

    /// <summary>For each of some lines; those of processors are looked for together.</summary>
    public IReadOnlyList<IReadOnlyList<Suggestion>> For(IReadOnlyList<OutsideLineRecord> lines)
    {
        var candidates = AtProcessors([.. lines.Where(l => IsOpen(l) && l.Bench == Bench.Processors)]).ToLookup(a => (a.Gross, a.Kind, a.Currency));
        return [.. lines.Select(l => !IsOpen(l) ? [] : l.Bench switch
        {
            Bench.Processors => OfProcessor(l, candidates[(l.Gross, l.Kind, l.Currency)]),
            Bench.Bank => OfBank(l),
            _ => (IReadOnlyList<Suggestion>)[],
        })];
    }

    private static bool IsOpen(OutsideLineRecord line) => line.State == MatchState.Open && line.Findings.HasFlag(Finding.NotInBook);

    /// <summary>Of each line the nearest on both sides with the same amount: a shop may sell ten thousand a week at one price.</summary>
    private AwaitedRecord[] AtProcessors(IReadOnlyList<OutsideLineRecord> lines)
    {
        if (lines.Count == 0) return [];
        var json = JsonSerializer.Serialize(lines.Select(l => new object[] { l.Gross, (int)l.Kind, l.Currency, l.On, l.On.AddDays(DaysAtProcessor), l.On.AddDays(-DaysAtProcessor) }));
        var later = db.Awaited.FromSql(
            $"""
            SELECT a.* FROM json_each({json}) l CROSS JOIN Awaited a ON a.Bench = 0 AND a.Ours IN (
                SELECT Ours FROM Awaited WHERE Bench = 0 AND Gross = l.value ->> 0 AND Kind = l.value ->> 1 AND Currency = l.value ->> 2 AND "On" >= l.value ->> 3 AND "On" <= l.value ->> 4
                ORDER BY "On", Ours LIMIT {MostCandidates})
            """);
        var before = db.Awaited.FromSql(
            $"""
            SELECT a.* FROM json_each({json}) l CROSS JOIN Awaited a ON a.Bench = 0 AND a.Ours IN (
                SELECT Ours FROM Awaited WHERE Bench = 0 AND Gross = l.value ->> 0 AND Kind = l.value ->> 1 AND Currency = l.value ->> 2 AND "On" < l.value ->> 3 AND "On" >= l.value ->> 5
                ORDER BY "On" DESC, Ours DESC LIMIT {MostCandidates})
            """);
        return [.. later.AsNoTracking().AsEnumerable().Concat(before.AsNoTracking()).DistinctBy(a => a.Ours)];
    }

    /// <param name="same">Of the same amount and kind; those that are nearest to other lines too, which are left out as if it were asked about alone.</param>
    private static IReadOnlyList<Suggestion> OfProcessor(OutsideLineRecord line, IEnumerable<AwaitedRecord> same) =>
    [
        .. same.Where(a => a.On >= line.On && Apart(a.On, line.On) <= DaysAtProcessor).OrderBy(a => a.On).ThenBy(a => a.Ours, StringComparer.Ordinal).Take(MostCandidates)
            .Concat(same.Where(a => a.On < line.On && Apart(a.On, line.On) <= DaysAtProcessor).OrderByDescending(a => a.On).ThenByDescending(a => a.Ours, StringComparer.Ordinal).Take(MostCandidates))
            .OrderBy(a => Apart(a.On, line.On)).ThenBy(a => a.Ours, StringComparer.Ordinal).Take(MostShown)
            .Select(a => new Suggestion(a.Ours, a.On, new Money(a.Gross, Currency.Of(a.Currency)), "", Math.Min(99, 80 - (10 * Apart(a.On, line.On)) + (a.Fee == line.Fee ? 15 : 0)), $"same amount, {Days(Apart(a.On, line.On))}{(a.Fee == line.Fee ? ", same fee" : "")}"))
    ];

    private IReadOnlyList<Suggestion> OfBank(OutsideLineRecord line)
    {
        var book = cache.Get(db);
        var (from, to) = (line.On.AddDays(-DaysAtBank), line.On.AddDays(DaysAtBank));
        var near = db.Awaited.AsNoTracking().Where(a => a.Bench == Bench.Bank && a.On >= from && a.On <= to && a.Currency == line.Currency).AsEnumerable().Where(a => Math.Sign(a.Gross) == Math.Sign(line.Gross))
            .OrderBy(a => Apart(a.On, line.On)).ThenBy(a => a.Ours, StringComparer.Ordinal).Take(MostCandidates).ToArray();
        var single = near.Where(a => a.Gross == line.Gross).Select(a =>
        {
            var name = a.Name.Length > 0 ? book.PayeeName(a.Name) : "";
            var likeness = name.Length > 0 && line.Name.Length > 0 ? Likeness(name, line.Name) : 0;
            var like = likeness >= 95 ? ", same name" : likeness >= 60 ? ", name nearly the same" : "";
            return new Suggestion(a.Ours, a.On, new Money(a.Gross, Currency.Of(a.Currency)), name, Math.Min(99, 70 - (6 * Apart(a.On, line.On)) + (likeness * 29 / 100)), $"same amount, {Days(Apart(a.On, line.On))}{like}");
        }).OrderByDescending(s => s.Sureness).ThenBy(s => s.Ours, StringComparer.Ordinal).Take(MostShown).ToArray();
        if (single.Length > 0) return single;
        return Sum(near, line.Gross) is { } several
            ? [new Suggestion(string.Join('+', several.Select(a => a.Ours)), several.Max(a => a.On), new Money(line.Gross, Currency.Of(line.Currency)), string.Join(", ", several.Select(a => a.Name.Length > 0 ? book.PayeeName(a.Name) : a.Ours)), 50, $"{several.Count} that add up to it")]
            : [];
    }

    /// <summary>Two to four that add up to an amount: the fewest, the nearest first.</summary>
    private static List<AwaitedRecord>? Sum(AwaitedRecord[] near, long amount)
    {
        for (var size = 2; size <= MostOfSum; size++)
        {
            if (Pick(near, 0, size, amount, []) is { } found) return found;
        }
        return null;
    }

    private static List<AwaitedRecord>? Pick(AwaitedRecord[] near, int from, int size, long left, List<AwaitedRecord> picked)
    {
        if (size == 0) return left == 0 ? [.. picked] : null;
        for (var i = from; i <= near.Length - size; i++)
        {
            // All are of one sign, so what has gone beyond the amount never comes back.
            if (Math.Abs(near[i].Gross) > Math.Abs(left)) continue;
            picked.Add(near[i]);
            if (Pick(near, i + 1, size - 1, left - near[i].Gross, picked) is { } found) return found;
            picked.RemoveAt(picked.Count - 1);
        }
        return null;
    }

    /// <summary>How many of a hundred pairs of letters two names have in common.</summary>
    private static int Likeness(string a, string b)
    {
        var (x, y) = (Pairs(a), Pairs(b));
        if (x.Count + y.Count == 0) return 0;
        var common = x.Sum(p => Math.Min(p.Value, y.GetValueOrDefault(p.Key)));
        return 200 * common / (x.Values.Sum() + y.Values.Sum());
    }

    private static Dictionary<string, int> Pairs(string name)
    {
        var letters = string.Concat(name.ToLowerInvariant().Where(char.IsLetterOrDigit));
        return Enumerable.Range(0, Math.Max(0, letters.Length - 1)).Select(i => letters.Substring(i, 2)).GroupBy(p => p).ToDictionary(g => g.Key, g => g.Count());
    }

    private static int Apart(DateOnly a, DateOnly b) => Math.Abs(a.DayNumber - b.DayNumber);

    private static string Days(int apart) => apart == 0 ? "the same day" : $"{MoneyWords.Count(apart, "day")} apart";
}
