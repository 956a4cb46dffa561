namespace EvenSplit.Core.Tests;

/// <summary>What an order should bring in at its processor: the sale, and what refunds really took back.</summary>
public sealed class MovementsTests
{
    private static readonly Currency Euro = Currency.Of("EUR");
    private static readonly DateTimeOffset Paid = new(2026, 10, 25, 12, 0, 0, TimeSpan.Zero);

    private static readonly Rulebook Rules = new(
        new BookPolicy(Euro, BookTime.Of("UTC"), ClickModel.Last, false), new ExchangeRates(Euro, []), [new Processor(new ProcessorId("card"), Rate.Parse("0.02"), 30, Euro)], [], [new Product { Id = new ProductId("guide"), CostCurrency = Euro }], [], []);

    [Fact]
    public void A_sale_brings_what_was_charged_less_the_fee()
    {
        var sale = Assert.Single(Movements.Of(Rules, Sold(), []));
        Assert.Equal((MovementKind.Sale, 12_500L, 280L, "sale:A", new DateOnly(2026, 10, 25)), (sale.Kind, sale.Gross, sale.Fee, sale.Ours(new OrderId("A")), sale.On));
    }

    [Fact]
    public void Nothing_is_expected_of_what_is_unpaid_a_test_or_names_no_processor()
    {
        Assert.Empty(Movements.Of(Rules, Sold() with { PaidAt = null }, []));
        Assert.Empty(Movements.Of(Rules, Sold() with { IsTest = true }, []));
        Assert.Empty(Movements.Of(Rules, Sold() with { Processor = null }, []));
    }

    [Fact]
    public void A_refund_takes_back_no_more_than_is_left_and_a_cancel_all_of_it()
    {
        var movements = Movements.Of(Rules, Sold(),
        [
            Back("R1", 1, RefundKind.Refund, goods: 4000, tax: 800) with { ProcessingFeeReturned = 100 }, Back("K1", 2, RefundKind.Chargeback, goods: 9000, tax: 0) with { DisputeFee = 1500, ProcessingFeeReturned = 500 },
            Back("X", 3, RefundKind.Cancel),
        ]);
        // 100 goods, 20 tax and 5 shipping were charged: 48.00, then the 60.00 goods that are left, then 12.00 tax and 5.00 shipping.
        Assert.Equal([-4800L, -6000, -1700], movements.Skip(1).Select(m => m.Gross));
        // Of the fee of 2.80, 1.00 came back, then the 1.80 that was left.
        Assert.Equal([-100L, 1500 - 180, 0], movements.Skip(1).Select(m => m.Fee));
        Assert.Equal(-12_500, movements.Skip(1).Sum(m => m.Gross));
    }

    [Fact]
    public void A_refund_before_the_payment_counts_as_at_the_payment()
    {
        var refund = Movements.Of(Rules, Sold(), [Back("R1", -5, RefundKind.Refund, goods: 100)])[1];
        Assert.Equal((new DateOnly(2026, 10, 25), Paid), (refund.On, refund.At));
    }

    private static Refund Back(string id, int days, RefundKind kind, long goods = 0, long tax = 0) => new()
    {
        Id = new RefundId(id),
        Order = new OrderId("A"),
        At = Paid.AddDays(days),
        Kind = kind,
        Lines = kind == RefundKind.Cancel ? [] : [new RefundLine(new LineId("1"), 0, goods, tax)],
    };

    private static Order Sold() => new()
    {
        Id = new OrderId("A"),
        Channel = new ChannelId("shop"),
        Currency = Euro,
        PlacedAt = Paid,
        PaidAt = Paid,
        Processor = new ProcessorId("card"),
        Customer = CustomerKind.New,
        Shipping = 500,
        Lines = [new OrderLine { Id = new LineId("1"), Product = new ProductId("guide"), Quantity = 1, UnitPrice = 10_000, Tax = 2000, RequiresShipping = true }],
    };
}
