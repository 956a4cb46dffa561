using CsCheck;
using static EvenSplit.Core.Tests.SmallBook;

namespace EvenSplit.Core.Tests;

/// <summary>What must hold for every order, whatever it holds.</summary>
public sealed class ShareProperties
{
    private static readonly Gen<OrderLine> AnyLine =
        from number in Gen.Int[0, 9999]
        from product in Gen.Int[0, Products.Length - 1].Select(i => Products[i])
        from price in Gen.Long[0, 20_000]
        from quantity in Gen.Long[1, 4]
        from taxPercent in Gen.Long[0, 23]
        from ships in Gen.Bool
        select Line($"l{number}", product, price, quantity, price * quantity * taxPercent / 123, ships);

    private static readonly Gen<Order> AnyOrder =
        from id in Gen.Int[0, 1_000_000]
        from lines in AnyLine.Array[1, 5]
        from inclusive in Gen.Bool
        from discount in Gen.Long[0, 100]
        from shipping in Gen.Long[0, 1500]
        from code in Gen.Int[0, 2].Select(i => new[] { "", "ANNA", "nobody" }[i])
        from fee in Gen.Long[0, 500].Nullable()
        select Order($"o{id}", [.. lines.DistinctBy(l => l.Id)]) with
        {
            PricesIncludeTax = inclusive,
            Discount = Math.Min(discount, lines.DistinctBy(l => l.Id).Sum(l => l.UnitPrice * l.Quantity - l.Tax)),
            Shipping = shipping,
            ShippingTax = shipping / 6,
            Codes = code.Length == 0 ? [] : [code],
            Processor = new ProcessorId("card"),
            ProcessingFee = fee,
        };

    private static readonly Gen<AgreementVersion> AnyVersion =
        from percent in Gen.Int[0, 400]
        from perUnit in Gen.Long[0, 90].Nullable()
        from perOrder in Gen.Long[0, 300].Nullable()
        from house in Gen.Bool
        from tax in Gen.Enum<Treatment>()
        from shipping in Gen.Enum<Treatment>()
        from switches in Gen.Bool.Array[5]
        select Version($"0.{percent:D3}", perUnit, perOrder, house ? RateOf.House : RateOf.Payee) with
        {
            Tax = tax,
            Shipping = shipping,
            DeductProcessingFee = switches[0],
            DeductCost = switches[1],
            AfterReferral = switches[2],
            DiscountBorneBy = switches[3] ? DiscountBearer.House : DiscountBearer.Shared,
            LostFees = LostFeeBearer.House,
        };

    private static readonly Gen<Rulebook> AnyRules =
        from versions in AnyVersion.Array[4]
        select Rules(
            ("anna", PayeeRole.Affiliate, Basis.Referral, versions[0]),
            ("ines", PayeeRole.Collaborator, Basis.Contribution, versions[1]),
            ("tomas", PayeeRole.Collaborator, Basis.Contribution, versions[2]),
            ("joiner", PayeeRole.Vendor, Basis.Supply, versions[3]));

    /// <summary>Whatever an agreement shows, the steps add up to the base, and no step has an amount that is hidden.</summary>
    [Fact]
    public void What_a_payee_is_shown_adds_up_and_tells_nothing_that_is_hidden() => Gen.Select(AnyRules, AnyOrder, Gen.Bool, Gen.Bool).Sample((rules, order, steps, fees) =>
    {
        var ledger = WorkOut(rules, order, explain: true);
        var teller = new PayeeTraceTeller(rules, new Naming(p => p.Value, a => a.Value, p => p.Value));
        foreach (var amount in ledger.SaleAmounts)
        {
            var told = teller.Tell(ledger, amount, new PayeeSight(steps, fees));
            Assert.Equal(amount.Amount, told.Amount);
            if (told.Base is not { } whole) continue;
            Assert.Equal(whole, told.Steps.Aggregate(Fraction.Zero, (sum, step) => sum + step.Amount));
            Assert.Equal(amount.Trace!.Base, whole);
            Assert.DoesNotContain(told.Steps, s => s.Words.Contains("cost", StringComparison.OrdinalIgnoreCase) || (!fees && s.Words.StartsWith("Fee", StringComparison.Ordinal)));
            var others = ledger.SaleAmounts.Select(a => a.Key.Payee.Value).Where(p => p != amount.Key.Payee.Value);
            Assert.All(others, other => Assert.DoesNotContain(told.After.Append(told.Why), sentence => sentence.Contains(other, StringComparison.Ordinal)));
        }
    });

    [Fact]
    public void The_parts_make_up_the_whole() => Gen.Select(AnyRules, AnyOrder).Sample((rules, order) =>
    {
        var ledger = WorkOut(rules, order);
        var figures = ledger.Figures;
        Assert.Equal(
            figures.Charged + figures.Rebate,
            figures.Tax + figures.ProcessingFee + figures.ChannelFee + ledger.SaleEntries.Sum(e => e.Amount.Minor) + ledger.House);
        Assert.Equal(ledger.Earnings, Enum.GetValues<PayeeRole>().Sum(ledger.EarnedBy));
        Assert.Equal(figures.ProcessingFee, figures.Lines.Sum(l => l.ProcessingFee));
        Assert.Equal(figures.ShippingNet, figures.Lines.Sum(l => l.Shipping));
    });

    [Fact]
    public void A_full_refund_leaves_nothing_owed() => Gen.Select(AnyRules, AnyOrder).Sample((rules, order) =>
    {
        var ledger = WorkOut(rules, order);
        var reversals = ledger.Take(new Refund { Id = new RefundId("r"), Order = order.Id, At = Noon.AddDays(3), Kind = RefundKind.Cancel }).Entries;
        Assert.Equal(0, ledger.SaleEntries.Concat(reversals).Sum(e => e.Amount.Minor));
        Assert.True(ledger.NothingLeft);
    });

    [Fact]
    public void Two_refunds_of_half_take_back_what_one_of_all_does() => Gen.Select(AnyRules, AnyOrder).Sample((rules, order) =>
    {
        Refund Half(string id, int part) => new()
        {
            Id = new RefundId(id),
            Order = order.Id,
            At = Noon.AddDays(part),
            Kind = RefundKind.Refund,
            Lines = WorkOut(rules, order).Figures.Lines.Select(l => new RefundLine(
                l.Line.Id, Part(l.Line.Quantity, part), Part(l.GoodsNet, part), Part(l.Tax, part))).ToArray(),
        };
        static long Part(long whole, int part) => part == 1 ? whole / 2 : whole - whole / 2;
        var ledger = WorkOut(rules, order with { Shipping = 0, ShippingTax = 0 });
        var entries = ledger.SaleEntries.Concat(ledger.Take(Half("a", 1)).Entries).Concat(ledger.Take(Half("b", 2)).Entries);
        Assert.Equal(0, entries.Sum(e => e.Amount.Minor));
        Assert.DoesNotContain(ledger.Exceptions, e => e.Code == ExceptionCode.RefundExceeds);
    });

    [Fact]
    public void Working_it_out_again_gives_the_same() => Gen.Select(AnyRules, AnyOrder).Sample((rules, order) =>
        Assert.Equal(WorkOut(rules, order).SaleEntries, WorkOut(rules, order).SaleEntries));

    [Fact]
    public void Explaining_changes_no_figure() => Gen.Select(AnyRules, AnyOrder).Sample((rules, order) =>
    {
        var explained = WorkOut(rules, order, explain: true);
        Assert.Equal(WorkOut(rules, order).SaleEntries, explained.SaleEntries);
        var traces = new TraceTeller(rules, new Naming(p => p.Value, a => a.Value, p => p.Value)).Tell(explained, explained.SaleAmounts);
        Assert.All(traces, t => Assert.True(t.Sentences.Count >= 3));
    });

    [Fact]
    public void Allocation_loses_nothing() => Gen.Select(Gen.Long[-1_000_000, 1_000_000], Gen.Long[0, 10_000].Array[1, 8]).Sample((total, weights) =>
    {
        var parts = Allocation.Allocate(total, weights);
        Assert.Equal(total, parts.Sum());
        Assert.All(parts, p => Assert.True(Math.Sign(p) * Math.Sign(total) >= 0));
    });

    [Fact]
    public void Shares_that_make_up_the_whole_make_up_the_base()
    {
        var third = Version("0.25");
        var rules = Rules([.. Enumerable.Range(0, 4).Select(i => ($"p{i}", PayeeRole.Collaborator, Basis.Contribution, third))]);
        Gen.Long[1, 99_999].Sample(price => Assert.Equal(price, WorkOut(rules, Order("o", Line("l", "guide", price))).Earnings));
    }

    [Fact]
    public void No_payee_of_an_equal_split_is_favoured()
    {
        var rules = Rules([.. Enumerable.Range(0, 3).Select(i => ($"p{i}", PayeeRole.Collaborator, Basis.Contribution, Version("0.333333")))]);
        const int orders = 6000;
        var earned = Enumerable.Range(0, orders)
            .SelectMany(i => WorkOut(rules, Order($"o{i}", Line("l", "guide", 1000))).SaleEntries)
            .GroupBy(e => e.Payee.Value).ToDictionary(g => g.Key, g => g.Sum(e => e.Amount.Minor));
        // A third of the odd cents each, within four standard deviations.
        Assert.All(earned.Values, minor => Assert.InRange(minor - 333 * orders, 1854, 2146));
    }

    [Fact]
    public void The_order_of_the_file_changes_nothing() => Gen.Select(AnyRules, AnyOrder.Array[1, 8], Gen.Int).Sample((rules, some, seed) =>
    {
        var orders = some.DistinctBy(o => o.Id).ToArray();
        var refunds = orders.Where((_, i) => i % 2 == 0)
            .Select(o => new Refund { Id = new RefundId("r" + o.Id), Order = o.Id, At = Noon.AddDays(1), Kind = RefundKind.Cancel }).ToArray();
        RunRequest[] runs = [new(new RunId("a"), new DateOnly(2026, 3, 31), null), new(new RunId("b"), new DateOnly(2026, 4, 30), null)];
        var straight = WholeBook.WorkOut(new Facts(rules, orders, refunds, [], runs));
        var random = new Random(seed);
        random.Shuffle(orders);
        random.Shuffle(refunds);
        random.Shuffle(runs);
        var shuffled = WholeBook.WorkOut(new Facts(rules, orders, refunds, [], runs));
        Assert.Equal(straight.Entries, shuffled.Entries);
        Assert.Equal(straight.Exceptions, shuffled.Exceptions);
        Assert.Equal(
            straight.Runs.SelectMany(r => r.Payees).Select(p => (p.Payee, p.Paid, p.Carried)),
            shuffled.Runs.SelectMany(r => r.Payees).Select(p => (p.Payee, p.Paid, p.Carried)));
    });

    [Fact]
    public void What_is_carried_opens_the_next_run() => Gen.Select(AnyRules, AnyOrder.Array[1, 6]).Sample((rules, some) =>
    {
        var orders = some.DistinctBy(o => o.Id).Select((o, i) => o with { PaidAt = Noon.AddDays(20 * i) }).ToArray();
        var runs = Enumerable.Range(0, 5).Select(i => new RunRequest(new RunId($"{i}"), new DateOnly(2026, 3, 1).AddMonths(i), null)).ToArray();
        var result = WholeBook.WorkOut(new Facts(rules, orders, [], [], runs));
        foreach (var payee in rules.Payees)
        {
            var own = result.Runs.Select(r => r.Payees.Single(p => p.Payee == payee.Id)).ToArray();
            Assert.All(own.Zip(own.Skip(1)), pair => Assert.Equal(pair.First.Carried, pair.Second.Opening));
            Assert.Equal(
                result.Entries.Where(e => e.Payee == payee.Id && e.ClearsOn <= runs[^1].AsOf).Sum(e => e.Amount.Minor),
                own.Sum(p => p.Paid) + own[^1].Carried);
        }
    });
}
