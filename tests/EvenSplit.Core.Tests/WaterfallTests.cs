using static EvenSplit.Core.Tests.SmallBook;

namespace EvenSplit.Core.Tests;

/// <summary>Worked examples of what an order brings in (contract, section 2).</summary>
public sealed class WaterfallTests
{
    private readonly List<CalculationException> _exceptions = [];

    private OrderFigures Figures(Order order, bool attributed = false, params Channel[] channels)
    {
        var rules = new Rulebook(
            new BookPolicy(Eur, BookTime.Of("UTC"), ClickModel.Last), new ExchangeRates(Eur, []), [new Processor(new ProcessorId("card"), Rate.Parse("0.0175"), 25, Eur)], channels,
            Products.Select(p => new Product { Id = new ProductId(p), CostCurrency = Currency.Of("GBP"), UnitCost = p == "box" ? 100 : null }), [], []);
        return OrderWaterfall.WorkOut(rules, order, attributed, _exceptions);
    }

    [Fact]
    public void Tax_on_top_is_charged_on_top()
    {
        var figures = Figures(Order("o", Line("a", "guide", 8400, tax: 1932, ships: true), Line("b", "print", 2300, 2, 414)) with
        {
            Shipping = 950,
            ShippingTax = 219,
            Processor = new ProcessorId("card"),
        });
        Assert.Equal((16515, 2565, 13000, 950), (figures.Charged, figures.Tax, figures.GoodsNet, figures.ShippingNet));
        Assert.Equal((314, FeeSource.Schedule), (figures.ProcessingFee, figures.ProcessingFeeSource));
        Assert.Equal([203, 111], figures.Lines.Select(l => l.ProcessingFee));
        Assert.Equal([950, 0], figures.Lines.Select(l => l.Shipping));
    }

    [Fact]
    public void Tax_inside_the_prices_comes_out_of_them_and_so_does_that_of_a_discount()
    {
        var figures = Figures(Order("o", Line("a", "guide", 12300, tax: 2070)) with { PricesIncludeTax = true, Discount = 1230, Shipping = 615, ShippingTax = 115 });
        Assert.Equal((9000, 11685, 500), (figures.GoodsNet, figures.Charged, figures.ShippingNet));
        // 12.30 with its 23 % is 10.00 without.
        Assert.Equal(1000, figures.Lines[0].DiscountExTax);
    }

    [Fact]
    public void An_order_discount_is_shared_by_what_each_line_still_costs()
    {
        var figures = Figures(Order("o", Line("a", "guide", 3000) with { Discount = 1000 }, Line("b", "print", 1000)) with { Discount = 100 });
        Assert.Equal([1067, 33], figures.Lines.Select(l => l.Discount));
        Assert.Equal([1933, 967], figures.Lines.Select(l => l.GoodsNet));
    }

    [Fact]
    public void Shipping_falls_on_all_lines_where_none_needs_it() =>
        Assert.Equal([300, 100], Figures(Order("o", Line("a", "guide", 3000), Line("b", "print", 1000)) with { Shipping = 400 }).Lines.Select(l => l.Shipping));

    [Fact]
    public void An_actual_fee_comes_before_the_schedule()
    {
        var figures = Figures(Order("o", Line("a", "guide", 3000)) with { Processor = new ProcessorId("card"), ProcessingFee = 12 });
        Assert.Equal((12, FeeSource.Actual), (figures.ProcessingFee, figures.ProcessingFeeSource));
    }

    [Fact]
    public void A_processor_without_a_schedule_is_an_exception_and_costs_nothing()
    {
        Assert.Equal(0, Figures(Order("o", Line("a", "guide", 3000)) with { Processor = new ProcessorId("voucher") }).ProcessingFee);
        Assert.Equal(ExceptionCode.FeeMissing, Assert.Single(_exceptions).Code);
    }

    [Theory]
    [InlineData(true, 60)]
    [InlineData(false, 0)]
    public void A_scheduled_rebate_is_credited_only_for_an_order_somebody_brought(bool attributed, long rebate)
    {
        var fair = new Channel(new ChannelId("shop"), Rate.Parse("0.11"), 30, Eur, Rate.Parse("0.02"));
        var figures = Figures(Order("o", Line("a", "guide", 3000)), attributed, fair);
        Assert.Equal((360, rebate), (figures.ChannelFee, figures.Rebate));
    }

    [Fact]
    public void A_cost_that_cannot_be_converted_counts_nothing_and_says_so()
    {
        Assert.Equal(0, Figures(Order("o", Line("a", "box", 3000, 2))).Lines[0].Cost);
        Assert.Equal(new CalculationException(ExceptionCode.RateMissing, new OrderId("o")), Assert.Single(_exceptions));
    }
}
