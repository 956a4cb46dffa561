using static EvenSplit.Core.Tests.SmallBook;

namespace EvenSplit.Core.Tests;

/// <summary>Refunds, chargebacks and clearing by worked examples (contract, sections 7 and 8).</summary>
public sealed class RefundTests
{
    private static Refund Of(long goods, long quantity = 0, int days = 3, RefundKind kind = RefundKind.Refund, string id = "r") => new()
    {
        Id = new RefundId(id),
        Order = new OrderId("o"),
        At = Noon.AddDays(days),
        Kind = kind,
        Lines = kind == RefundKind.Cancel ? [] : [new RefundLine(new LineId("l"), quantity, goods, 0)],
    };

    private static OrderLedger Ledger(AgreementVersion version, long price = 10_000, long quantity = 1, long fee = 200) => WorkOut(
        Rules(("ines", PayeeRole.Collaborator, Basis.Contribution, version)),
        Order("o", Line("l", "guide", price, quantity)) with { ProcessingFee = fee });

    [Fact]
    public void Lost_fees_on_the_house_shrink_with_the_goods()
    {
        var ledger = Ledger(Version("0.5") with { DeductProcessingFee = true });
        Assert.Equal(4900, ledger.SaleEntries.Single().Amount.Minor);
        // Half is left: 50.00 less half of the fee.
        Assert.Equal(-2450, ledger.Take(Of(5000)).Entries.Single().Amount.Minor);
    }

    [Fact]
    public void Shared_lost_fees_can_take_back_more_than_was_earned()
    {
        var ledger = Ledger(Version("0.5") with { DeductProcessingFee = true, LostFees = LostFeeBearer.Shared });
        var reversal = ledger.Take(Of(10_000, kind: RefundKind.Chargeback) with { DisputeFee = 1500 }).Entries.Single();
        Assert.Equal(-4900 - 850, reversal.Amount.Minor);
    }

    [Fact]
    public void Flat_amounts_follow_the_units_and_the_order_keeps_its_own_to_the_end()
    {
        var ledger = Ledger(Version("0", perUnit: 150, perOrder: 100), price: 1000, quantity: 3);
        Assert.Equal(550, ledger.SaleEntries.Single().Amount.Minor);
        Assert.Equal(-150, ledger.Take(Of(1000, 1)).Entries.Single().Amount.Minor);
        Assert.Equal(-400, ledger.Take(Of(2000, 2, days: 4, id: "s")).Entries.Single().Amount.Minor);
    }

    [Fact]
    public void More_than_is_left_is_dropped_and_said_once()
    {
        var ledger = Ledger(Version("0.1"));
        Assert.Equal(-1000, ledger.Take(Of(99_999, 5)).Entries.Single().Amount.Minor);
        Assert.Empty(ledger.Take(Of(1, id: "s")).Entries);
        Assert.Equal(ExceptionCode.RefundExceeds, Assert.Single(ledger.Exceptions).Code);
    }

    [Fact]
    public void A_refund_dated_before_the_payment_counts_at_the_payment()
    {
        var reversal = Ledger(Version("0.1")).Take(Of(10_000, days: -9)).Entries.Single();
        Assert.Equal(new DateOnly(2026, 3, 2), reversal.PostedOn);
    }

    [Theory]
    [InlineData(10, 2, "2026-03-12")]
    [InlineData(10, 20, "2026-03-22")]
    [InlineData(0, 1, "2026-03-03")]
    public void A_reversal_clears_with_its_sale_or_on_its_own_day_if_later(int hold, int refundedAfter, string clears)
    {
        var reversal = Ledger(Version("0.1") with { HoldDays = hold }).Take(Of(10_000, days: refundedAfter)).Entries.Single();
        Assert.Equal(DateOnly.ParseExact(clears, "yyyy-MM-dd"), reversal.ClearsOn);
    }

    [Fact]
    public void A_manual_sign_off_holds_an_earning_until_it_is_given()
    {
        var version = Version("0.1") with { SignOff = SignOff.Manual, HoldDays = 5 };
        Assert.Null(Ledger(version).SaleEntries.Single().ClearsOn);
        var rules = Rules(("ines", PayeeRole.Collaborator, Basis.Contribution, version));
        var signedOff = WorkOut(rules, Order("o", Line("l", "guide", 1000)) with { SignedOffAt = Noon.AddDays(9) });
        Assert.Equal(new DateOnly(2026, 3, 11), signedOff.SaleEntries.Single().ClearsOn);
    }
}
