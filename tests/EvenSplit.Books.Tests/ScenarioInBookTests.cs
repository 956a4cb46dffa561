using System.Text.Json;
using System.Text.Json.Nodes;
using EvenSplit.Books.Forms;
using EvenSplit.Books.Model;
using EvenSplit.Books.Sales;
using EvenSplit.Books.Scenarios;
using EvenSplit.Books.Terms;
using EvenSplit.Core;
using EvenSplit.Formats.Scenarios;

namespace EvenSplit.Books.Tests;

/// <summary>A book, however its facts came in, holds what the core works out from all of them at once.</summary>
public sealed class ScenarioInBookTests
{
    private static readonly string Samples = Path.Combine(AppContext.BaseDirectory, "samples");

    public static TheoryData<string> Names => new(Directory.GetFiles(Samples, "*.json").Select(f => Path.GetFileName(f)!)
        .Where(f => !f.EndsWith(".result.json", StringComparison.Ordinal)).Order(StringComparer.Ordinal));

    public static TheoryData<int> Seeds => new(Enumerable.Range(100, 12));

    [Theory, MemberData(nameof(Names))]
    public void A_sample_loaded_gives_its_result(string name)
    {
        using var file = File.OpenRead(Path.Combine(Samples, name));
        LoadedIsCalculated(ScenarioReader.Read(file));
    }

    [Theory, MemberData(nameof(Names))]
    public void Every_version_of_a_sample_can_be_typed_into_the_form(string name)
    {
        using var file = File.OpenRead(Path.Combine(Samples, name));
        TypedIsTheSame(ScenarioReader.Read(file));
    }

    [Theory, MemberData(nameof(Seeds))]
    public void Every_version_of_a_random_scenario_can_be_typed_into_the_form(int seed) => TypedIsTheSame(ScenarioBook.Random(seed, 1));

    [Theory, MemberData(nameof(Seeds))]
    public void A_random_scenario_loaded_gives_its_result(int seed) => LoadedIsCalculated(ScenarioBook.Random(seed, 60));

    [Theory, MemberData(nameof(Seeds))]
    public void The_facts_a_book_tells_come_to_what_it_holds(int seed)
    {
        using var book = new ScenarioBook(ScenarioBook.Random(seed, 40));
        using var file = new MemoryStream();
        ScenarioWriter.Write(book.Get<BookFacts, Facts>(f => f.Read()), file);
        file.Position = 0;
        var (told, held) = (ScenarioBook.Items(WholeBook.WorkOut(ScenarioReader.Read(file))), book.Result());
        foreach (var part in held.Keys) Assert.Equal(held[part], told[part]);
    }

    [Fact]
    public void A_large_scenario_loaded_gives_its_result() => LoadedIsCalculated(ScenarioBook.Random(7, 1500));

    [Theory, MemberData(nameof(Seeds))]
    public void Event_by_event_in_any_order_gives_what_all_at_once_does(int seed)
    {
        var facts = ScenarioBook.Random(seed, 40);
        using var book = new ScenarioBook(facts with { Orders = [], Refunds = [], Runs = [] });
        foreach (var happened in InAnyOrder(facts, seed))
        {
            if (happened is Order order) book.Take(order);
            else book.Take((Refund)happened);
        }
        book.MoveTo(new DateOnly(2027, 6, 1));
        foreach (var run in facts.Runs.OrderBy(r => r.AsOf).ThenBy(r => r.Id)) book.Pay(run);

        var (expected, held) = (ScenarioBook.Items(WholeBook.WorkOut(facts)), book.Result());
        Assert.Equal(expected["orders"].Order(StringComparer.Ordinal), held["orders"].Order(StringComparer.Ordinal));
        Assert.Equal(expected["entries"], held["entries"]);
        Assert.Equal(expected["runs"], held["runs"]);
        Assert.Equal(expected["exceptions"], held["exceptions"]);
    }

    /// <summary>Refunds wait for their orders; otherwise anything may come before anything.</summary>
    private static List<object> InAnyOrder(Facts facts, int seed)
    {
        var random = new Random(seed);
        var waiting = facts.Orders.ToList<object>();
        var refunds = facts.Refunds.ToLookup(r => r.Order);
        var events = new List<object>();
        while (waiting.Count > 0)
        {
            var next = random.Next(waiting.Count);
            events.Add(waiting[next]);
            if (waiting[next] is Order order) waiting.AddRange(refunds[order.Id]);
            waiting.RemoveAt(waiting.IndexOf(events[^1]));
        }
        return events;
    }

    /// <summary>Each version, written into a draft as a person would type it and published as a new agreement, comes out word for word.</summary>
    private static void TypedIsTheSame(Facts facts)
    {
        using var book = new ScenarioBook(facts with { Orders = [], Refunds = [], Runs = [] });
        foreach (var agreement in facts.Rules.Agreements)
        {
            foreach (var version in agreement.Versions.Where(v => v.Terms.Count > 0))
            {
                var (id, faults) = book.Get<AgreementDesk, (string?, IReadOnlyList<FieldFault>)>(d => d.Publish(null, AgreementDraft.Of("Typed", agreement, version), "Lena"));
                Assert.Empty(faults);
                var typed = book.Get<BookDbContext, string>(db => db.AgreementVersions.Single(v => v.AgreementId == id).Document);
                Assert.Equal(VersionDocuments.Write(Plain(version, agreement.Basis)), typed);
            }
        }
    }

    /// <summary>Without what has no effect: a rank 2 switch under referral, a recruiter under the others, who gets a rate that is nothing.</summary>
    private static AgreementVersion Plain(AgreementVersion version, Basis basis) => version with
    {
        AfterReferral = version.AfterReferral && basis != Basis.Referral,
        RecruiterPercent = basis == Basis.Referral ? version.RecruiterPercent : null,
        Terms = version.Terms.Select(t => t with { Cases = t.Cases.Select(c => c.Rate.IsEmpty ? c with { Rate = new ShareRate(null) } : c).ToArray() }).ToArray(),
    };

    private static void LoadedIsCalculated(Facts facts)
    {
        using var book = new ScenarioBook(facts);
        var (expected, held) = (ScenarioBook.Items(WholeBook.WorkOut(facts)), book.Result());
        Assert.Equal(expected.Keys, held.Keys);
        Assert.All(expected.Keys, section => Assert.Equal(expected[section], held[section]));
    }

    [Fact]
    public void An_order_tells_by_which_published_rates_it_was_converted()
    {
        var scenario = JsonNode.Parse(File.ReadAllBytes(Path.Combine(Samples, "08-runs-currencies-advances.json")))!;
        foreach (var product in scenario["products"]!.AsArray()) (product!["unitCost"], product["costCurrency"]) = (500, "USD");
        using var book = new ScenarioBook(ScenarioReader.Read(new MemoryStream(JsonSerializer.SerializeToUtf8Bytes(scenario))));
        var conversion = Assert.Single(book.Get<OpenOrder, OrderView>(o => o.Find("o1")!).Conversions);
        Assert.Equal(("USD", "EUR", "1 USD = 0.9241 EUR, 1 Mar 2026"), (conversion.From.Code, conversion.To.Code, conversion.Source));
        Assert.Equal("1 EUR = 1.089 USD, 9 Apr 2026", Assert.Single(book.Get<OpenOrder, OrderView>(o => o.Find("o2")!).Conversions).Source);
    }
}
