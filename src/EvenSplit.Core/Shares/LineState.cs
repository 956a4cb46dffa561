namespace EvenSplit.Core;

/// <summary>
/// What a line still holds when its shares are worked out: at the sale all of it, after refunds what is left
/// (contract, section 7). Minor units of the order's currency, exact where the contract says exactly.
/// </summary>
internal readonly record struct LineState
{
    public required long Goods { get; init; }
    public required long Tax { get; init; }
    public required long Quantity { get; init; }
    public required long Shipping { get; init; }
    public required long ShippingTax { get; init; }
    public required long RebateToPass { get; init; }
    public required long Cost { get; init; }
    /// <summary>Fees where lost ones are shared: what the seller is really out of pocket.</summary>
    public required long ProcessingFeeIfShared { get; init; }
    /// <summary>What the line was at the sale.</summary>
    public required LineFigures AtSale { get; init; }
    /// <summary>The contract's <c>f</c>, as a fraction: how much of the line is left.</summary>
    public required long LeftOf { get; init; }
    public required long LeftOutOf { get; init; }

    /// <summary>An amount of the sale that shrinks with the goods, exactly.</summary>
    public Fraction Left(long atSale) => LeftOf == LeftOutOf ? atSale : atSale * new Fraction(LeftOf, LeftOutOf);
}

/// <summary>The lines of an order as they stand, at the sale or after refunds.</summary>
internal sealed record OrderState(LineState[] Lines, bool AfterRefund, bool NothingLeft)
{
    public static OrderState AtSale(OrderFigures figures)
    {
        var lines = new LineState[figures.Lines.Count];
        for (var i = 0; i < lines.Length; i++)
        {
            var line = figures.Lines[i];
            lines[i] = new LineState
            {
                Goods = line.GoodsNet,
                Tax = line.Tax,
                Quantity = line.Line.Quantity,
                Shipping = line.Shipping,
                ShippingTax = line.ShippingTax,
                RebateToPass = line.Rebate,
                Cost = line.Cost,
                ProcessingFeeIfShared = line.ProcessingFee,
                AtSale = line,
                LeftOf = 1,
                LeftOutOf = 1,
            };
        }
        return new OrderState(lines, AfterRefund: false, NothingLeft: false);
    }
}
