using static EvenSplit.Core.Tests.SmallBook;

namespace EvenSplit.Core.Tests;

/// <summary>Worked examples of terms, bases and shares (contract, sections 4 to 6).</summary>
public sealed class ShareTests
{
    private static AgreementVersion With(params Term[] terms) => Version("0") with { Terms = terms };

    private static Term On(Scope scope, string percent) => new(scope, [new TermCase(CaseConditions.None, new ShareRate(Rate.Parse(percent)))]);

    private static Term Cases(params (CaseConditions When, string Percent)[] cases) =>
        new(Scope.All, cases.Select(c => new TermCase(c.When, new ShareRate(Rate.Parse(c.Percent)))).ToArray());

    private static long Earned(AgreementVersion version, Order order, Basis basis = Basis.Contribution) =>
        WorkOut(Rules(("ines", PayeeRole.Collaborator, basis, version)), order).Earnings;

    private static Order Sold(long price = 10_000, long quantity = 1) => Order("o", Line("l", "guide", price, quantity));

    [Fact]
    public void The_narrowest_scope_wins_then_the_earlier() => Assert.Equal(
        2000,
        Earned(With(On(Scope.All, "0.5"), On(Scope.Of(new ProductId("guide")), "0.2"), On(Scope.Of(new ProductId("guide")), "0.9")), Sold()));

    [Fact]
    public void An_empty_rate_excludes_a_product() => Assert.Equal(
        0,
        Earned(With(On(Scope.All, "0.5"), new Term(Scope.Of(new ProductId("guide")), [new TermCase(CaseConditions.None, new ShareRate(null))])), Sold()));

    [Theory]
    [InlineData(7999, 560)]
    [InlineData(8000, 720)]
    [InlineData(25000, 2750)]
    public void Bands_of_order_value_are_taken_from_the_top(long price, long earned) => Assert.Equal(
        earned,
        Earned(
            With(Cases(
                (new CaseConditions { OrderValueAtLeast = 25_000 }, "0.11"),
                (new CaseConditions { OrderValueAtLeast = 8_000 }, "0.09"),
                (CaseConditions.None, "0.07"))),
            Sold(price)));

    [Theory]
    [InlineData(0, 0)]
    [InlineData(null, 3500)]
    [InlineData(1, 3500)]
    [InlineData(3, 800)]
    [InlineData(7, 0)]
    public void Payment_numbers_choose_the_case(int? payment, long earned)
    {
        var version = With(Cases(
            (new CaseConditions { PaymentFrom = 1, PaymentTo = 1 }, "0.35"),
            (new CaseConditions { PaymentFrom = 2, PaymentTo = 6 }, "0.08")));
        Assert.Equal(earned, Earned(version, Order("o", Line("l", "guide", 10_000) with { PaymentNumber = payment })));
    }

    [Fact]
    public void A_house_rate_leaves_the_payee_the_rest_after_its_flat_amounts()
    {
        var version = Version("0.3", perUnit: 100, perOrder: 250, of: RateOf.House);
        Assert.Equal(10_000 - 3000 - 200 - 250, Earned(version, Sold(5000, 2)));
        Assert.Equal(0, Earned(version, Sold(100)));
    }

    [Fact]
    public void A_flat_amount_an_order_falls_once_over_the_lines_of_its_case()
    {
        var order = Order("o", Line("a", "guide", 3000), Line("b", "print", 1000), Line("c", "box", 6000));
        var version = With(new Term(Scope.All, [new TermCase(CaseConditions.None, new ShareRate(null, null, 101))]));
        var ledger = WorkOut(Rules(("ines", PayeeRole.Collaborator, Basis.Contribution, version)), order);
        Assert.Equal([30, 10, 61], ledger.SaleEntries.Select(e => e.Amount.Minor));
    }

    [Fact]
    public void Every_switch_of_the_base_adds_or_takes_what_it_says()
    {
        var order = Order("o", Line("l", "guide", 11_000, tax: 2300) with { Discount = 1000 }) with { Shipping = 500, ShippingTax = 115, ProcessingFee = 200, ChannelFee = 300, Rebate = 40 };
        var all = Version("1");
        long Base(AgreementVersion version) => Earned(version, order);
        Assert.Equal(10_000, Base(all));
        Assert.Equal(11_000, Base(all with { DiscountBorneBy = DiscountBearer.House }));
        Assert.Equal(12_300, Base(all with { Tax = Treatment.Count }));
        Assert.Equal(10_500, Base(all with { Shipping = Treatment.Count }));
        Assert.Equal(12_915, Base(all with { Tax = Treatment.Count, Shipping = Treatment.Count }));
        Assert.Equal(10_040, Base(all with { Rebate = Treatment.Count }));
        Assert.Equal(9_800, Base(all with { DeductProcessingFee = true }));
        Assert.Equal(9_700, Base(all with { DeductChannelFee = true }));
        Assert.Equal(9_850, Base(all with { DeductCost = true }));
    }

    [Fact]
    public void What_is_passed_on_goes_on_top_and_is_divided_evenly()
    {
        var pass = Version("0.1") with { Shipping = Treatment.Pass, Tax = Treatment.Pass };
        var rules = Rules(("ines", PayeeRole.Collaborator, Basis.Contribution, pass), ("tomas", PayeeRole.Collaborator, Basis.Contribution, pass));
        var ledger = WorkOut(rules, Order("o", Line("l", "guide", 10_000, tax: 2301)) with { Shipping = 500, ShippingTax = 115 });
        var passed = ledger.SaleEntries.Where(e => e.Part == EntryPart.Passed).ToArray();
        Assert.Equal(2301 + 500 + 115, passed.Sum(e => e.Amount.Minor));
        Assert.All(passed, e => Assert.InRange(e.Amount.Minor, 1457, 1459));
        Assert.Equal(500, ledger.ShippingPassed);
        Assert.Equal(2000, ledger.SaleEntries.Where(e => e.Part == EntryPart.Percent).Sum(e => e.Amount.Minor));
    }

    [Fact]
    public void Rank_two_after_referral_shares_what_the_affiliate_left()
    {
        var rules = Rules(
            ("anna", PayeeRole.Affiliate, Basis.Referral, Version("0.1", perUnit: 50)),
            ("ines", PayeeRole.Collaborator, Basis.Contribution, Version("0.5") with { AfterReferral = true }));
        var ledger = WorkOut(rules, Sold() with { Codes = ["ANNA"] });
        Assert.Equal([50, 1000, 4475], ledger.SaleEntries.Select(e => e.Amount.Minor));
    }

    [Fact]
    public void Supply_is_owed_for_the_vendors_own_products_only()
    {
        var rules = Rules(("joiner", PayeeRole.Vendor, Basis.Supply, Version("0.6")));
        var ledger = WorkOut(rules, Order("o", Line("a", "box", 1000), Line("b", "guide", 5000)));
        Assert.Equal(("a", 600), (ledger.SaleEntries.Single().Line.Value, ledger.SaleEntries.Single().Amount.Minor));
    }

    [Fact]
    public void Giving_away_more_than_came_in_stands_and_is_said()
    {
        var rules = Rules(("ines", PayeeRole.Collaborator, Basis.Contribution, Version("0.8", perUnit: 500)));
        var ledger = WorkOut(rules, Sold(1000));
        Assert.Equal((1300, -300), (ledger.Earnings, ledger.House));
        Assert.Equal(ExceptionCode.OverCommitted, Assert.Single(ledger.Exceptions).Code);
    }

    [Fact]
    public void A_ladder_is_climbed_by_what_came_before_and_never_down_again()
    {
        var ladder = With(Cases((new CaseConditions { SalesAtLeast = 20_000 }, "0.2"), (CaseConditions.None, "0.1")));
        var rules = Rules(("anna", PayeeRole.Affiliate, Basis.Referral, ladder));
        var orders = Enumerable.Range(0, 4).Select(i => Sold() with { Id = new OrderId($"o{i}"), Codes = ["ANNA"], PlacedAt = Noon.AddDays(i), PaidAt = Noon.AddDays(i) }).ToArray();
        var refund = new Refund { Id = new RefundId("r"), Order = new OrderId("o0"), At = Noon.AddDays(2.5), Kind = RefundKind.Cancel };
        var result = WholeBook.WorkOut(new Facts(rules, orders, [refund], [], []));
        Assert.Equal([1000, 1000, 2000, -1000, 2000], result.Entries.Select(e => e.Amount.Minor));
    }

    [Fact]
    public void A_monthly_ladder_begins_again_with_the_month()
    {
        var ladder = With(Cases((new CaseConditions { OrdersAtLeast = 1, Window = ProgressWindow.Month }, "0.2"), (CaseConditions.None, "0.1")));
        var rules = Rules(("anna", PayeeRole.Affiliate, Basis.Referral, ladder));
        var orders = new[] { 0, 5, 35 }.Select(day => Sold() with { Id = new OrderId($"o{day:D2}"), Codes = ["ANNA"], PlacedAt = Noon.AddDays(day), PaidAt = Noon.AddDays(day) }).ToArray();
        Assert.Equal([1000, 2000, 1000], WholeBook.WorkOut(new Facts(rules, orders, [], [], [])).Entries.Select(e => e.Amount.Minor));
    }
}
