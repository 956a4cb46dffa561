using CsCheck;
using EvenSplit.Formats.Scenarios;
using EvenSplit.RandomScenarios;

namespace EvenSplit.Core.Tests;

/// <summary>What must hold for every book, shown on random ones that use all a scenario can say.</summary>
public sealed class ScenarioProperties
{
    private static readonly Gen<Facts> AnyFacts = Gen.Select(Gen.Int[0, 100_000_000], Gen.Int[1, 40], (seed, orders) => Read(seed, orders));

    private static Facts Read(int seed, int orders) =>
        ScenarioReader.Read(new MemoryStream(RandomScenario.Bytes(seed, new ScenarioSize { Orders = orders })));

    [Fact]
    public void The_parts_make_up_the_whole_on_every_order() => AnyFacts.Sample(facts =>
    {
        var result = WholeBook.WorkOut(facts);
        var earned = result.Entries.Where(e => e.Refund is null).ToLookup(e => e.Order);
        foreach (var order in result.Orders.Where(o => o.Figures is not null))
        {
            var figures = order.Figures!;
            Assert.Equal(figures.Charged + figures.Rebate, figures.Tax + figures.ProcessingFee + figures.ChannelFee + order.Earnings + order.House);
            Assert.Equal(figures.Charged, figures.Lines.Sum(l => l.GoodsNet + l.Tax) + figures.ShippingNet + figures.ShippingTax);
            Assert.Equal(figures.ProcessingFee, figures.Lines.Sum(l => l.ProcessingFee));
            Assert.Equal(figures.ShippingNet + figures.ShippingTax, figures.Lines.Sum(l => l.Shipping + l.ShippingTax));
            Assert.Equal(order.Earnings, earned[order.Order.Id].Sum(e => facts.Rules.Rates.Convert(
                e.Amount.Minor, e.Amount.Currency, order.Order.Currency, facts.Rules.Policy.Time.DateOf(order.Order.PaidAt!.Value)) ?? 0));
        }
    });

    [Fact]
    public void Everything_cancelled_with_lost_fees_on_the_house_leaves_nothing_owed() => AnyFacts.Sample(facts =>
    {
        var forgiving = facts.Rules.Agreements.Select(a => new Agreement(
            a.Id, a.Basis, a.Currency, a.Versions.Select(v => v with { LostFees = LostFeeBearer.House })));
        var cancelled = facts with
        {
            Rules = facts.Rules.With(facts.Rules.Products, facts.Rules.Payees, forgiving),
            Refunds = [.. facts.Refunds, .. facts.Orders.Select(o => new Refund
            {
                Id = new RefundId("cancel " + o.Id),
                Order = o.Id,
                At = new DateTimeOffset(2028, 1, 1, 0, 0, 0, TimeSpan.Zero),
                Kind = RefundKind.Cancel,
            })],
        };
        foreach (var owed in WholeBook.WorkOut(cancelled).Entries.GroupBy(e => (e.Order, e.Line, e.Payee, e.Agreement, e.Part)))
        {
            Assert.Equal(0, owed.Sum(e => e.Amount.Minor));
        }
    });

    [Fact]
    public void Shuffling_the_file_changes_nothing() => Gen.Select(AnyFacts, Gen.Int).Sample((facts, seed) =>
    {
        var random = new Random(seed);
        var shuffled = facts with
        {
            Orders = Shuffled(facts.Orders, random),
            Refunds = Shuffled(facts.Refunds, random),
            Runs = Shuffled(facts.Runs, random),
            Adjustments = Shuffled(facts.Adjustments, random),
        };
        var (straight, mixed) = (WholeBook.WorkOut(facts), WholeBook.WorkOut(shuffled));
        Assert.Equal(straight.Entries, mixed.Entries);
        Assert.Equal(straight.Exceptions, mixed.Exceptions);
        Assert.Equal(Paid(straight), Paid(mixed));

        static IEnumerable<(RunId, PayeeId, long, long, RemittanceReason)> Paid(BookResult result) =>
            result.Runs.SelectMany(r => r.Payees.Select(p => (r.Id, p.Payee, p.Paid, p.Carried, p.Reason)));
    });

    [Fact]
    public void What_happens_later_changes_nothing_before() => Gen.Select(AnyFacts, Gen.Double[0.1, 0.9]).Sample((facts, share) =>
    {
        // A renewal looks at its origin whenever that was paid; here only at those paid before.
        var paidAt = facts.Orders.ToDictionary(o => o.Id, o => o.PaidAt);
        var orders = facts.Orders.Select(o => o.Origin is { } origin && paidAt.GetValueOrDefault(origin) >= o.PaidAt ? o with { Origin = null } : o).ToArray();
        var instants = orders.Select(o => o.PaidAt).OfType<DateTimeOffset>().Order().ToArray();
        if (instants.Length == 0) return;
        var cut = instants[(int)(share * instants.Length)];
        var all = WholeBook.WorkOut(facts with { Orders = orders });
        var half = WholeBook.WorkOut(facts with
        {
            Orders = orders.Where(o => o.PaidAt is null || o.PaidAt < cut).ToArray(),
            Refunds = facts.Refunds.Where(r => r.At < cut && paidAt[r.Order] < cut).ToArray(),
        });
        Assert.Equal(half.Entries, all.Entries.Take(half.Entries.Count));
    });

    [Fact]
    public void Nothing_is_in_two_runs_and_what_is_carried_opens_the_next() => AnyFacts.Sample(facts =>
    {
        var result = WholeBook.WorkOut(facts);
        foreach (var payee in facts.Rules.Payees)
        {
            var own = result.Runs.SelectMany(r => r.Payees.Where(p => p.Payee == payee.Id).Select(p => (r.AsOf, Figures: p))).ToArray();
            Assert.All(own.Zip(own.Skip(1)), pair => Assert.Equal(pair.First.Figures.Carried, pair.Second.Figures.Opening));
            Assert.All(own, r => Assert.Equal(r.Figures.Due, r.Figures.TakesEntries ? r.Figures.Paid + r.Figures.TransferFee + r.Figures.Carried : r.Figures.Carried));
            Assert.All(payee.Advances, a => Assert.True(own.SelectMany(r => r.Figures.RecoupedFrom).Where(t => t.AdvanceId == a.Id).Sum(t => t.Amount) <= a.Amount));
            var entries = result.Entries.Where(e => e.Payee == payee.Id).ToArray();
            var taking = own.Where(r => r.Figures.TakesEntries).ToArray();
            if (taking.Length == 0 || entries.Any(e => e.Amount.Currency != payee.PayoutCurrency)) continue;
            Assert.Equal(entries.Where(e => e.ClearsOn <= taking[^1].AsOf).Sum(e => e.Amount.Minor), taking.Sum(r => r.Figures.Earned));
        }
    });

    [Fact]
    public void Explaining_changes_no_figure() => AnyFacts.Sample(facts =>
    {
        var traced = new List<Trace>();
        var teller = new TraceTeller(facts.Rules, new Naming(p => p.Value, a => a.Value, p => p.Value));
        var explained = WholeBook.WorkOut(facts, new BookWatch { Explain = true, OnLedger = ledger => traced.AddRange(teller.Tell(ledger, ledger.SaleAmounts)) });
        Assert.Equal(WholeBook.WorkOut(facts).Entries, explained.Entries);
        Assert.Equal(explained.Entries.Count(e => e.Refund is null), traced.Count);
    }, iter: 30);

    private static T[] Shuffled<T>(IEnumerable<T> items, Random random)
    {
        var array = items.ToArray();
        random.Shuffle(array);
        return array;
    }
}
