using static EvenSplit.Core.Tests.SmallBook;

namespace EvenSplit.Core.Tests;

public sealed class TraceTests
{
    private static readonly Naming Plain = new(p => p.Value, a => a.Value, p => p.Value);

    [Fact]
    public void Tells_who_by_which_term_of_which_base_and_how_it_was_rounded()
    {
        var version = Version("0.08") with { DeductProcessingFee = true, HoldDays = 30 };
        var rules = Rules(("anna", PayeeRole.Affiliate, Basis.Referral, version));
        var order = Order("o1", Line("l1", "guide", 2400)) with { Codes = ["Anna", "OTHER"], ProcessingFee = 67 };
        var ledger = WorkOut(rules, order, explain: true);
        var trace = Assert.Single(new TraceTeller(rules, Plain).Tell(ledger, ledger.SaleAmounts));
        Assert.Equal(
            [
                "Brought by anna: coupon code Anna on the order. Passed over: code OTHER (belongs to nobody).",
                "of-anna, version from 1 Jan 2025: term 1, on everything, gives 8 % of the share base.",
                "Share base: goods €24.00 − processing fee €0.67 = €23.33.",
                "8 % of €23.33 is €1.8664.",
                "Rounded to €1.87.",
                "Paid on 2 Mar 2026, clears on 1 Apr 2026: a hold of 30 days.",
            ],
            trace.Sentences);
    }

    [Fact]
    public void Names_the_terms_passed_over()
    {
        var version = Version("0.05") with
        {
            Terms =
            [
                new Term(Scope.All, [new TermCase(CaseConditions.None, new ShareRate(Rate.Parse("0.05")))]),
                new Term(Scope.Of(new ProductId("guide")), [new TermCase(CaseConditions.None, new ShareRate(null, 150))]),
            ],
        };
        var rules = Rules(("ines", PayeeRole.Collaborator, Basis.Contribution, version));
        var ledger = WorkOut(rules, Order("o1", Line("l1", "guide", 2400, 2)), explain: true);
        var trace = Assert.Single(new TraceTeller(rules, Plain).Tell(ledger, ledger.SaleAmounts));
        Assert.Contains("term 2, on guide, gives €1.50 a unit. Passed over: term 1, everything (the narrower scope wins).", trace.Sentences[1], StringComparison.Ordinal);
        Assert.Contains("2 units at €1.50.", trace.Sentences);
        Assert.Equal(300, trace.Amount.Minor);
    }
}
