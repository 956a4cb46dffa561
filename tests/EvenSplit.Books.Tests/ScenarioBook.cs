using System.Text.Json.Nodes;
using EvenSplit.Books.Model;
using EvenSplit.Books.PayRuns;
using EvenSplit.Books.Posting;
using EvenSplit.Books.Scenarios;
using EvenSplit.Core;
using EvenSplit.Formats.Scenarios;
using EvenSplit.RandomScenarios;

namespace EvenSplit.Books.Tests;

/// <summary>A book made of a scenario, in a folder of its own.</summary>
internal sealed class ScenarioBook : BookOnDisk
{
    public ScenarioBook(Facts facts) => Do<LoadScenario>(load => load.Load(facts, "Scenario", "Lena"));

    public static Facts Random(int seed, int orders) => ScenarioReader.Read(new MemoryStream(RandomScenario.Bytes(seed, new ScenarioSize { Orders = orders })));

    /// <summary>The result the book holds, section by section, one text an item.</summary>
    public IReadOnlyDictionary<string, string[]> Result() => Items(Get<BookResults, BookResult>(r => r.Read()));

    public static IReadOnlyDictionary<string, string[]> Items(BookResult result)
    {
        using var output = new MemoryStream();
        ResultWriter.Write(result, output);
        return JsonNode.Parse(output.ToArray())!.AsObject().ToDictionary(s => s.Key, s => s.Value!.AsArray().Select(i => i!.ToJsonString()).ToArray());
    }

    public void Take(Order order) => InPosting((_, posting) => posting.PostNew([order]));

    public void Take(Refund refund) => InPosting((db, posting) =>
    {
        var record = OrderFacts.ToRecord(refund, 0, db.Orders.Single(o => o.OrderId == refund.Order.Value).Id);
        db.AllRefunds.Add(record);
        db.SaveChanges();
        posting.Recalculate([record.OrderId], new HashSet<long> { record.Id });
    });

    public void Pay(RunRequest run)
    {
        var id = Get<PayRunSteps, int>(s => s.Gather(run.AsOf, run.Payees?.Select(p => p.Value).ToArray(), run.Id.Value, "Lena"));
        Do<PayRunSteps>(s => s.Lock(id, "Lena"));
    }

    private void InPosting(Action<BookDbContext, OrderPosting> action) => InPosting((db, posting) =>
    {
        action(db, posting);
        return 0;
    });

    private int InPosting(Func<BookDbContext, OrderPosting, int> action) => Get<BookDbContext, int>(db =>
    {
        using var transaction = db.Database.BeginTransaction();
        var book = Get<BookCache, OpenedBook>(cache => cache.Get(db));
        var result = action(db, new OrderPosting(db, book, new DateOnly(2027, 1, 1)));
        transaction.Commit();
        return result;
    });
}
