using EvenSplit.Formats.Csv;
using static EvenSplit.Core.Tests.SmallBook;

namespace EvenSplit.Core.Tests;

/// <summary>Lines held against the plans of their products: what is expected, what is left alone.</summary>
public sealed class PriceAuditTests
{
    private static readonly PricePlan Fixed = new() { Kind = PriceKind.Fixed };
    private static readonly PricePlan Rising = new() { Kind = PriceKind.Stepping, Steps = new PriceSteps(100, 50, 3000) };
    private static readonly PaymentPlan Yearly = new() { Kind = PaymentKind.Subscription, EveryMonths = 12, Trial = new Trial(100, 30) };

    private static PriceFinding[] Look(PricePlan? pricing, PaymentPlan? payments, OrderLine line, long sold = 0, string currency = "EUR") =>
        [.. PriceAudit.Look(new SellingPlan(new Money(2400, Eur), pricing, payments), Order("A", line) with { Currency = Currency.Of(currency) }, line, () => sold)];

    private static OrderLine Sold(long price, long quantity = 1, int? payment = null) => Line("1", "guide", price, quantity) with { PaymentNumber = payment };

    [Fact]
    public void A_fixed_price_is_just_it_and_a_minimum_is_it_or_more()
    {
        Assert.Empty(Look(Fixed, null, Sold(2400)));
        Assert.Equal([new PriceFinding(new LineId("1"), PriceFault.Price, 2400, 2500)], Look(Fixed, null, Sold(2500)));
        Assert.Empty(Look(Fixed with { Kind = PriceKind.Minimum }, null, Sold(9900)));
        Assert.Equal([new PriceFinding(new LineId("1"), PriceFault.Price, 2400, 2399)], Look(Fixed with { Kind = PriceKind.Minimum }, null, Sold(2399)));
    }

    [Theory]
    [InlineData(0, 2400)]
    [InlineData(49, 2400)]
    [InlineData(50, 2500)]
    [InlineData(299, 2900)]
    [InlineData(300, 3000)]
    [InlineData(long.MaxValue, 3000)]
    public void A_price_rises_after_every_so_many_sales_to_its_ceiling(long sold, long price)
    {
        Assert.Empty(Look(Rising, null, Sold(price), sold));
        Assert.Equal(price, Assert.Single(Look(Rising, null, Sold(price + 1), sold)).Expected);
    }

    [Fact]
    public void What_cannot_be_judged_is_left_alone()
    {
        Assert.Empty(Look(null, null, Sold(1)));
        Assert.Empty(Look(Fixed, null, Sold(1), currency: "USD"));
        Assert.Empty(Look(Rising, Yearly, Sold(1, payment: 2)));
    }

    [Fact]
    public void More_than_there_are_and_earlier_than_its_launch_are_found()
    {
        Assert.Empty(Look(Fixed with { AtMost = 200 }, null, Sold(2400, 2), sold: 198));
        Assert.Equal(new PriceFinding(new LineId("1"), PriceFault.SoldOut, 1, 2), Assert.Single(Look(Fixed with { AtMost = 200 }, null, Sold(2400, 2), sold: 199)));
        Assert.Equal(0, Assert.Single(Look(Fixed with { AtMost = 200 }, null, Sold(2400), sold: 900)).Expected);
        Assert.Empty(Look(Fixed with { NotBefore = Noon }, null, Sold(2400)));
        Assert.Equal(PriceFault.BeforeLaunch, Assert.Single(Look(Fixed with { NotBefore = Noon.AddTicks(1) }, null, Sold(2400))).Fault);
    }

    [Fact]
    public void Trials_and_payments_have_their_own_price_and_number()
    {
        Assert.Empty(Look(Fixed, Yearly, Sold(100, payment: 0)));
        Assert.Equal(100, Assert.Single(Look(Fixed, Yearly, Sold(0, payment: 0))).Expected);
        Assert.Empty(Look(Fixed, Yearly, Sold(2400, payment: 7)));
        Assert.Equal(new PriceFinding(new LineId("1"), PriceFault.Payment, 3, 4), Assert.Single(Look(Fixed, new PaymentPlan { Kind = PaymentKind.Instalments, Instalments = 3, EveryMonths = 1 }, Sold(2400, payment: 4))));
        Assert.Equal(PriceFault.Payment, Assert.Single(Look(Fixed, new PaymentPlan { Kind = PaymentKind.Once }, Sold(2400, payment: 0))).Fault);
    }

    [Theory]
    [InlineData("fixed", "once")]
    [InlineData("minimum; at most 200", "every 12 months; trial 1.00 for 30 days")]
    [InlineData("up 1.00 every 50 to 30.00; at most 500; not before 2026-10-01T09:00+01:00", "3 payments every 1 months")]
    [InlineData("", "")]
    public void Plans_are_written_as_they_are_read(string price, string payments)
    {
        Assert.True(PlanText.TryReadPricing(price, Eur, out var pricing));
        Assert.True(PlanText.TryReadPayments(payments, Eur, out var plan));
        Assert.Equal((price, payments), (PlanText.Write(pricing, Eur), PlanText.Write(plan, Eur)));
    }

    [Theory]
    [InlineData("free")]
    [InlineData("fixed; soon")]
    [InlineData("up 1.005 every 50 to 30.00")]
    [InlineData("up 1.00 every 0 to 30.00")]
    [InlineData("fixed; not before tomorrow")]
    [InlineData("fixed; at most 99999999999999999999")]
    public void What_is_no_price_plan_is_not_read(string text) => Assert.False(PlanText.TryReadPricing(text, Eur, out _));

    [Theory]
    [InlineData("monthly")]
    [InlineData("1 payments every 1 months")]
    [InlineData("every 0 months")]
    [InlineData("once; trial 1.00 for 0 days")]
    [InlineData("once; trial 1.00 for 30 days; twice")]
    public void What_is_no_payment_plan_is_not_read(string text) => Assert.False(PlanText.TryReadPayments(text, Eur, out _));

    [Fact]
    public void Plans_and_findings_read_as_sentences()
    {
        var time = BookTime.Of("Europe/Dublin");
        Assert.Equal("€24.00 a unit, going up by €1.00 after every 50 sales to €30.00; 200 in all; from 1 Oct 2026 09:00.",
            PriceWords.Pricing(Rising with { AtMost = 200, NotBefore = new DateTimeOffset(2026, 10, 1, 8, 0, 0, TimeSpan.Zero) }, new Money(2400, Eur), time));
        Assert.Equal("Paid every 12 months; before that a trial of 30 days for €1.00.", PriceWords.Payments(Yearly, Eur));
        Assert.Equal("sold at €25.00 a unit where the plan says €24.00", PriceWords.Finding(Look(Fixed, null, Sold(2500))[0], Eur));
    }

    /// <summary>Where a day of sales is passed over since all are judged alike, each of them must be.</summary>
    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    public void Sales_that_are_passed_over_together_are_judged_alike_one_by_one(int seed)
    {
        var random = new Random(seed);
        var passed = 0;
        for (var i = 0; i < 3_000; i++)
        {
            var plan = new SellingPlan(new Money(2400, Eur), new PricePlan
            {
                Kind = PriceKind.Stepping,
                Steps = random.Next(3) == 0 ? null : new PriceSteps(100, 1 + random.Next(20), 2400 + (100 * random.Next(5))),
                AtMost = random.Next(2) == 0 ? null : random.Next(60),
            }, null);
            var (sold, other, units) = (random.Next(80), random.Next(80), 1 + random.Next(12));
            if (!PriceAudit.JudgesAllAlike(plan, units, sold, other)) continue;
            passed++;
            for (var before = 0; before < units; before++)
            {
                Assert.True(PriceAudit.JudgesAlike(plan, 1, sold + before, other + before));
                Assert.True(PriceAudit.JudgesAlike(plan, units - before, sold + before, other + before));
            }
        }
        Assert.True(passed > 300);
    }

    [Fact]
    public void A_limit_that_is_passed_by_either_is_not_judged_alike_unless_nothing_was_left_for_both()
    {
        var plan = new SellingPlan(new Money(2400, Eur), Fixed with { AtMost = 10 }, null);
        Assert.True(PriceAudit.JudgesAlike(plan, 2, 3, 8));
        Assert.False(PriceAudit.JudgesAlike(plan, 2, 8, 9));
        Assert.False(PriceAudit.JudgesAlike(plan, 5, 8, 9));
        Assert.True(PriceAudit.JudgesAlike(plan, 5, 10, 400));
    }
}
