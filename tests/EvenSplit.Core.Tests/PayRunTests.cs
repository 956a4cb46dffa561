namespace EvenSplit.Core.Tests;

public sealed class PayRunTests
{
    private static readonly Currency Eur = Currency.Of("EUR");
    private static readonly DateOnly AsOf = new(2026, 10, 31);

    private static Payee Somebody => new()
    {
        Id = new PayeeId("p"),
        Role = PayeeRole.Affiliate,
        PayoutCurrency = Eur,
        ActiveFrom = new DateOnly(2025, 1, 1),
    };

    private static Remittance WorkOut(Payee payee, long earned, long opening = 0, int payments = 0) => PayRun.WorkOut(
        new ExchangeRates(Eur, []), AsOf, new PayeeStanding { Payee = payee, Opening = opening, Cleared = [new Money(earned, Eur)], PaymentsThisYear = payments });

    [Theory]
    [InlineData(5000, 0, 5000, 0, RemittanceReason.Paid)]
    [InlineData(1999, 0, 0, 1999, RemittanceReason.BelowMinimum)]
    [InlineData(1500, 500, 2000, 0, RemittanceReason.Paid)]
    [InlineData(-300, 100, 0, -200, RemittanceReason.Negative)]
    [InlineData(-300, 300, 0, 0, RemittanceReason.Nothing)]
    public void Pays_from_the_minimum_and_carries_the_rest(long earned, long opening, long paid, long carried, RemittanceReason reason)
    {
        var remittance = WorkOut(Somebody with { Minimum = 2000 }, earned, opening);
        Assert.Equal((paid, carried, reason), (remittance.Paid, remittance.Carried, remittance.Reason));
    }

    [Fact]
    public void Recoups_the_oldest_advance_first_then_withholds()
    {
        var payee = Somebody with
        {
            Advances = [new Advance("new", new DateOnly(2026, 5, 1), 9000), new Advance("old", new DateOnly(2026, 1, 1), 2000), new Advance("later", AsOf.AddDays(1), 1)],
            RecoupPercent = Rate.Parse("0.5"),
            WithholdingPercent = Rate.Parse("0.15"),
        };
        var remittance = WorkOut(payee, 10_000);
        Assert.Equal([("old", 2000), ("new", 3000)], remittance.RecoupedFrom);
        Assert.Equal(750, remittance.Withheld);
        Assert.Equal(4250, remittance.Paid);
    }

    [Theory]
    [InlineData(0, 5000)]
    [InlineData(1, 5000)]
    [InlineData(2, 4925)]
    public void The_transfer_fee_falls_due_after_the_free_ones(int payments, long paid) =>
        Assert.Equal(paid, WorkOut(Somebody with { TransferFee = 75, FreeTransfers = 2 }, 5000, payments: payments).Paid);

    [Fact]
    public void On_hold_leaves_everything_as_it_was()
    {
        var remittance = WorkOut(Somebody with { OnHold = true }, 5000, opening: 70);
        Assert.Equal((70, 70, 0, RemittanceReason.OnHold), (remittance.Opening, remittance.Carried, remittance.Earned, remittance.Reason));
        Assert.False(remittance.TakesEntries);
    }
}
