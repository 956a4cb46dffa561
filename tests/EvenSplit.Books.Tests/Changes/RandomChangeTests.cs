using System.Text.Json.Nodes;
using EvenSplit.Books.Checking;
using EvenSplit.Books.Importing;
using EvenSplit.Books.Model;
using EvenSplit.Books.Scenarios;
using EvenSplit.Core;
using EvenSplit.Formats.Scenarios;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Tests.Changes;

/// <summary>
/// Rules change after the sales, at random, and whatever is done in whatever order: the book holds what its facts come to, agrees with itself, and
/// leaves what a locked run took as it was. <c>./evensplit test changes SEED [STEPS]</c> replays one; <c>EVENSPLIT_CHANGES</c> says how many books the
/// nightly form makes.
/// </summary>
public sealed class RandomChangeTests
{
    private const int StepsBetweenLooks = 5;

    private static int Number(string name, int otherwise) => int.TryParse(Environment.GetEnvironmentVariable(name), out var number) ? number : otherwise;

    public static TheoryData<int> Seeds => Environment.GetEnvironmentVariable("EVENSPLIT_SEED") is { Length: > 0 } seed
        ? new(int.Parse(seed, System.Globalization.CultureInfo.InvariantCulture))
        : new(Enumerable.Range(1, Number("EVENSPLIT_CHANGES", 8)));

    [Theory, MemberData(nameof(Seeds))]
    public void Whatever_changes_after_the_sales_the_book_holds_what_its_facts_come_to(int seed)
    {
        using var book = new ScenarioBook(ScenarioBook.Random(seed, 25) with { Runs = [] });
        var changes = new RandomChanges(book, seed);
        var done = new List<string>();
        try
        {
            var taken = new TakenByRuns([], 0);
            for (var step = 1; step <= Number("EVENSPLIT_STEPS", 60); step++)
            {
                done.Add(changes.Step());
                if (step % StepsBetweenLooks != 0) continue;
                book.Recalculate();
                taken = StillTaken(book, taken);
                HoldsWhatItsFactsComeTo(book);
                book.AgreesWithItself();
            }
        }
        catch (Exception failure)
        {
            throw new InvalidOperationException($"Seed {seed}, after {done.Count} steps; replay with: ./evensplit test changes {seed} {done.Count}\n{string.Join('\n', done.TakeLast(12))}\n{failure.Message}", failure);
        }
    }

    /// <summary>Entries that runs have taken, and the runs' own figures, are what they were, but for runs that were unlocked meanwhile.</summary>
    private static TakenByRuns StillTaken(ScenarioBook book, TakenByRuns before)
    {
        var now = book.Get<BookDbContext, TakenByRuns>(db => new TakenByRuns(
            db.Entries.AsNoTracking().Where(e => e.RunId != null).AsEnumerable().Select(e => $"run {e.RunId}: {e.Id} {e.OrderId} {e.LineNumber} {e.Payee} {e.Agreement} {e.Part} {e.Amount} {e.Currency} {e.PostedOn} {e.ClearsOn}")
                .Concat(db.Remittances.AsNoTracking().AsEnumerable().Select(m => $"run {m.RunId}: {m.Payee} {m.Opening} {m.Earned} {m.Adjustments} {m.Recouped} {m.Withheld} {m.Paid} {m.Carried} {m.Reason}")).ToHashSet(),
            db.Audit.Count(a => a.Action.StartsWith("unlock"))));
        if (now.Unlocked == before.Unlocked) Assert.Empty(before.What.Except(now.What));
        return now;
    }

    private sealed record TakenByRuns(HashSet<string> What, int Unlocked);

    private static void HoldsWhatItsFactsComeTo(ScenarioBook book)
    {
        var facts = book.Get<BookFacts, Facts>(f => f.Read());
        // The facts make a scenario without a fault.
        using var file = new MemoryStream();
        ScenarioWriter.Write(facts, file);
        file.Position = 0;
        ScenarioReader.Read(file);
        var (expected, held) = (ScenarioBook.Items(WholeBook.WorkOut(facts with { Runs = [], Adjustments = [] })), book.Result());
        Assert.Equal(expected["orders"], held["orders"]);
        var loose = book.Get<BookDbContext, HashSet<string>>(ClearingNotOfTheFacts);
        Assert.Equal(expected["entries"].Select(e => Comparable(e, loose)), held["entries"].Select(e => Comparable(e, loose)));
        Assert.Equal(expected["exceptions"], held["exceptions"].Where(e => JsonNode.Parse(e)!["order"] is not null));
    }

    /// <summary>What a run has taken clears on the day it did, and what is held back by hand on none.</summary>
    private static HashSet<string> ClearingNotOfTheFacts(BookDbContext db) =>
    [
        .. from e in db.Entries where e.RunId != null || db.EntryHolds.Any(h => h.LetGoAt == null && h.OrderId == e.OrderId) join o in db.Orders on e.OrderId equals o.Id select o.OrderId,
    ];

    private static string Comparable(string entry, HashSet<string> loose)
    {
        var node = JsonNode.Parse(entry)!.AsObject();
        if (loose.Contains((string)node["order"]!)) node.Remove("clearsOn");
        return node.ToJsonString();
    }
}
