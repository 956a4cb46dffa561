using static EvenSplit.Core.Tests.SmallBook;

namespace EvenSplit.Core.Tests;

/// <summary>Who brought the order (contract, section 3).</summary>
public sealed class AttributionTests
{
    private readonly List<CalculationException> _exceptions = [];

    private static Rulebook With(ClickModel model, bool allowSelf, params Payee[] payees) => new(
        new BookPolicy(Eur, BookTime.Of("UTC"), model, allowSelf), new ExchangeRates(Eur, []), [], [],
        [new Product { Id = new ProductId("guide"), CostCurrency = Eur }], payees,
        [new Agreement(new AgreementId("friends"), Basis.Referral, Eur, [Version("0.1") with { WindowDays = 30 }])]);

    private static Payee Friend(string id, params string[] keys) => new()
    {
        Id = new PayeeId(id),
        Role = PayeeRole.Affiliate,
        PayoutCurrency = Eur,
        ActiveFrom = Start,
        Codes = [id.ToUpperInvariant()],
        CustomerKeys = keys,
        Memberships = [new Membership(new AgreementId("friends"), Start, null)],
    };

    private static Click Clicked(string payee, double daysBefore) => new(new PayeeId(payee), Noon.AddDays(-daysBefore));

    private (string? Payee, AttributionVia? Via) Decide(Rulebook rules, Order order, AttributionDecision? origin = null)
    {
        var decision = Attributor.Decide(rules, order, origin, _exceptions);
        return (decision.Payee?.Value, decision.Via);
    }

    private static Order Plain => Order("o", Line("l", "guide", 1000));

    [Fact]
    public void By_hand_wins_over_codes_and_codes_over_clicks()
    {
        var rules = With(ClickModel.Last, false, Friend("ann"), Friend("bob"), Friend("cat"));
        var order = Plain with { ManualPayee = new PayeeId("cat"), Codes = ["ann", "BOB"], Clicks = [Clicked("ann", 1)] };
        Assert.Equal(("cat", AttributionVia.Manual), Decide(rules, order));
        Assert.Equal(("bob", AttributionVia.Code), Decide(rules, order with { ManualPayee = null }));
        Assert.Equal(("ann", AttributionVia.Click), Decide(rules, order with { ManualPayee = null, Codes = ["unknown"] }));
    }

    [Theory]
    [InlineData(ClickModel.Last, "bob")]
    [InlineData(ClickModel.First, "ann")]
    public void Clicks_count_first_or_last_inside_their_window(ClickModel model, string winner)
    {
        var rules = With(model, false, Friend("ann"), Friend("bob"), Friend("cat"));
        Assert.Equal((winner, AttributionVia.Click), Decide(rules, Plain with { Clicks = [Clicked("cat", 31), Clicked("ann", 30), Clicked("bob", 2), Clicked("cat", -0.1)] }));
    }

    [Theory]
    [InlineData(-10, "ann")]
    [InlineData(0, "bob")]
    [InlineData(9, "bob")]
    [InlineData(10, null)]
    public void A_code_counts_on_its_days_and_may_pass_from_one_payee_to_another(int days, string? winner)
    {
        var noon = DateOnly.FromDateTime(Noon.UtcDateTime);
        var rules = With(ClickModel.Last, false,
            Friend("ann") with { Codes = [new PayeeCode("SPRING", null, noon)] }, Friend("bob") with { Codes = [new PayeeCode("spring", noon, noon.AddDays(10))] });
        var order = Plain with { Codes = ["Spring"], PlacedAt = Noon.AddDays(days), PaidAt = Noon.AddDays(days) };
        Assert.Equal(winner, Decide(rules, order).Payee);
        Assert.Equal(winner is null ? ["ann", "bob"] : [], Attributor.CodesWithoutEffect(rules, order).Select(p => p.Value));
        if (winner is null) Assert.Equal(CandidateVerdict.CodeNotInForce, Attributor.Decide(rules, order, null, _exceptions, explain: true).Candidates.Single().Verdict);
    }

    [Fact]
    public void A_code_of_somebody_on_no_agreement_is_for_a_person_to_look_at_and_no_exception_of_the_calculation()
    {
        var rules = With(ClickModel.Last, false, Friend("ann") with { Memberships = [] });
        var order = Plain with { Codes = ["ANN", "nobody"] };
        Assert.Null(Decide(rules, order).Payee);
        Assert.Empty(_exceptions);
        Assert.Equal("ann", Assert.Single(Attributor.CodesWithoutEffect(rules, order)).Value);
        Assert.Empty(Attributor.CodesWithoutEffect(rules, order with { ManualPayee = new PayeeId("ann") }));
    }

    [Fact]
    public void At_one_instant_the_later_in_the_list_counts_as_later() => Assert.Equal(
        ("bob", AttributionVia.Click),
        Decide(With(ClickModel.Last, false, Friend("ann"), Friend("bob")), Plain with { Clicks = [Clicked("ann", 1), Clicked("bob", 1)] }));

    [Fact]
    public void Who_is_not_active_is_passed_over_and_named()
    {
        var rules = With(ClickModel.Last, false, Friend("ann"), Friend("bob") with { ActiveTo = new DateOnly(2026, 3, 2) });
        Assert.Equal(("ann", AttributionVia.Code), Decide(rules, Plain with { Codes = ["ANN", "BOB"] }));
        Assert.Equal(new CalculationException(ExceptionCode.PayeeInactive, new OrderId("o"), null, new PayeeId("bob")), Assert.Single(_exceptions));
    }

    [Theory]
    [InlineData(false, null)]
    [InlineData(true, "ann")]
    public void Nobody_earns_on_their_own_purchase_unless_the_book_allows_it(bool allowed, string? winner)
    {
        var rules = With(ClickModel.Last, allowed, Friend("ann", "c7"));
        Assert.Equal(winner, Decide(rules, Plain with { Codes = ["ANN"], CustomerKey = "c7" }).Payee);
        Assert.Equal(allowed ? 0 : 1, _exceptions.Count(e => e.Code == ExceptionCode.SelfReferral));
    }

    [Fact]
    public void A_renewal_has_its_origins_payee_or_nobody()
    {
        var rules = With(ClickModel.Last, false, Friend("ann"), Friend("bob"));
        var renewal = Plain with { Origin = new OrderId("first"), Codes = ["BOB"] };
        Assert.Equal(("ann", AttributionVia.Renewal), Decide(rules, renewal, new AttributionDecision(new PayeeId("ann"), AttributionVia.Code, [])));
        Assert.Null(Decide(rules, renewal, AttributionDecision.Nobody).Payee);
        Assert.Equal(("bob", AttributionVia.Code), Decide(rules, renewal, origin: null));
    }

    [Fact]
    public void A_chain_of_renewals_is_followed_to_its_beginning()
    {
        var rules = With(ClickModel.Last, false, Friend("ann"));
        var chain = Enumerable.Range(0, 5000).Select(i => Order($"o{i}", Line("l", "guide", 1000)) with
        {
            Origin = i == 0 ? null : new OrderId($"o{i - 1}"),
            Codes = i == 0 ? ["ANN"] : [],
            PlacedAt = Noon.AddMinutes(i),
            PaidAt = Noon.AddMinutes(i),
        }).ToArray();
        var result = WholeBook.WorkOut(new Facts(rules, chain, [], [], []));
        Assert.Equal(5000, result.Entries.Count);
        Assert.All(result.Orders.Skip(1), o => Assert.Equal(AttributionVia.Renewal, o.Attribution.Via));
    }
}
