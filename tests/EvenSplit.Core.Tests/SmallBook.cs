namespace EvenSplit.Core.Tests;

/// <summary>A rulebook of a few payees, for properties that must hold whatever the order.</summary>
internal static class SmallBook
{
    public static readonly Currency Eur = Currency.Of("EUR");
    public static readonly DateOnly Start = new(2025, 1, 1);
    public static readonly DateTimeOffset Noon = new(2026, 3, 2, 12, 0, 0, TimeSpan.Zero);

    public static readonly string[] Products = ["guide", "print", "box"];

    public static Rulebook Rules(params (string Payee, PayeeRole Role, Basis Basis, AgreementVersion Version)[] deals) => new(
        new BookPolicy(Eur, BookTime.Of("Europe/Dublin"), ClickModel.Last),
        new ExchangeRates(Eur, []),
        [new Processor(new ProcessorId("card"), Rate.Parse("0.0175"), 25, Eur)],
        [],
        Products.Select(p => new Product { Id = new ProductId(p), CostCurrency = Eur, UnitCost = 150, Vendor = p == "box" && deals.Any(d => d.Payee == "joiner") ? new PayeeId("joiner") : null }),
        deals.Select(d => new Payee
        {
            Id = new PayeeId(d.Payee),
            Role = d.Role,
            PayoutCurrency = Eur,
            ActiveFrom = Start,
            Codes = [d.Payee.ToUpperInvariant()],
            Memberships = [new Membership(new AgreementId("of-" + d.Payee), Start, null)],
        }),
        deals.Select(d => new Agreement(new AgreementId("of-" + d.Payee), d.Basis, Eur, [d.Version])));

    public static AgreementVersion Version(string percent, long? perUnit = null, long? perOrder = null, RateOf of = RateOf.Payee) => new()
    {
        From = Start,
        Terms = [new Term(Scope.All, [new TermCase(CaseConditions.None, new ShareRate(Rate.Parse(percent), perUnit, perOrder, of))])],
    };

    public static Order Order(string id, params OrderLine[] lines) => new()
    {
        Id = new OrderId(id),
        Channel = new ChannelId("shop"),
        Currency = Eur,
        PlacedAt = Noon,
        PaidAt = Noon,
        Lines = lines,
    };

    public static OrderLine Line(string id, string product, long price, long quantity = 1, long tax = 0, bool ships = false) => new()
    {
        Id = new LineId(id),
        Product = new ProductId(product),
        Quantity = quantity,
        UnitPrice = price,
        Tax = tax,
        RequiresShipping = ships,
    };

    public static OrderLedger WorkOut(Rulebook rules, Order order, bool explain = false) => new(rules, order, null, new NobodyAsks(), explain);

    private sealed class NobodyAsks : IProgressBefore
    {
        public ProgressFigures Of(PayeeId payee, Agreement agreement, ProgressWindow window, DateOnly paidOn) => throw new InvalidOperationException("No term here asks.");
    }
}
