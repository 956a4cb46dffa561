using static EvenSplit.Core.Tests.SmallBook;

namespace EvenSplit.Core.Tests;

/// <summary>What a payee is told of an amount.</summary>
public sealed class PayeeTraceTests
{
    private static readonly Naming Plain = new(p => p.Value, a => a.Value, p => p.Value);

    private static readonly AgreementVersion Net = Version("0.08") with { DeductProcessingFee = true, DeductCost = true, HoldDays = 30 };

    [Fact]
    public void Tells_in_their_words_and_folds_what_is_hidden_into_the_goods()
    {
        var trace = Tell(new PayeeSight(Steps: true, Fees: false));
        Assert.Equal("Your code Anna is on the order.", trace.Why);
        Assert.Equal([new PayeeStep("Goods, without tax, less other deductions agreed in your agreement", 2400 - 67 - 150)], trace.Steps);
        Assert.True(trace.LeavesOut);
        Assert.Equal((Fraction)2183, trace.Base);
        Assert.Equal(["Your 8 % of that is €1.7464.", "Rounded to €1.75.", "It was bought on 2 Mar 2026 and clears on 1 Apr 2026."], trace.After);
    }

    [Fact]
    public void Fees_are_steps_of_their_own_where_the_agreement_shows_them_and_costs_never()
    {
        var trace = Tell(new PayeeSight(Steps: true, Fees: true));
        Assert.Equal([2400 - 150, -67], trace.Steps.Select(s => (long)s.Amount.Round()));
        Assert.Equal("Fee of the payment processor", trace.Steps[1].Words);
    }

    [Fact]
    public void The_base_alone_says_nothing_of_what_is_left_out()
    {
        var trace = Tell(new PayeeSight(Steps: false, Fees: true));
        Assert.Equal([new PayeeStep("What your share is taken of", 2183)], trace.Steps);
        Assert.False(trace.LeavesOut);
    }

    [Fact]
    public void A_refund_tells_what_is_left()
    {
        var ledger = Ledger();
        ledger.Take(new Refund { Id = new RefundId("r"), Order = ledger.Order.Id, At = Noon.AddDays(3), Kind = RefundKind.Cancel });
        var trace = new PayeeTraceTeller(Book, Plain).Tell(ledger, Assert.Single(ledger.SaleAmounts), default);
        Assert.Equal("A refund on 5 Mar 2026 took €1.75 back; nothing is left.", trace.After[^1]);
    }

    private static readonly Rulebook Book = Rules(("anna", PayeeRole.Affiliate, Basis.Referral, Net));

    private static OrderLedger Ledger() => WorkOut(Book, Order("o1", Line("l1", "guide", 2400)) with { Codes = ["Anna"], Processor = new ProcessorId("card"), ProcessingFee = 67 }, explain: true);

    private static PayeeTrace Tell(PayeeSight sight)
    {
        var ledger = Ledger();
        return new PayeeTraceTeller(Book, Plain).Tell(ledger, Assert.Single(ledger.SaleAmounts), sight);
    }
}
