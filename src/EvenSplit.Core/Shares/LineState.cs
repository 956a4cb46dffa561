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
    public required Fraction DiscountExTax { get; init; }
    public required Fraction Rebate { get; init; }
    public required long RebateToPass { get; init; }
    public required long Cost { get; init; }
    /// <summary>Fees where the house bears lost ones: they shrink with the goods.</summary>
    public required Fraction ProcessingFeeIfHouse { get; init; }
    public required Fraction ChannelFeeIfHouse { get; init; }
    /// <summary>Fees where lost ones are shared: what the seller is really out of pocket.</summary>
    public required long ProcessingFeeIfShared { get; init; }
    public required long ChannelFeeIfShared { get; init; }
}

/// <summary>The lines of an order as they stand, at the sale or after refunds.</summary>
internal sealed record OrderState(LineState[] Lines, bool AfterRefund, bool NothingLeft)
{
    public static OrderState AtSale(OrderFigures figures) => new(
        figures.Lines.Select(l => new LineState
        {
            Goods = l.GoodsNet,
            Tax = l.Tax,
            Quantity = l.Line.Quantity,
            Shipping = l.Shipping,
            ShippingTax = l.ShippingTax,
            DiscountExTax = l.DiscountExTax,
            Rebate = l.Rebate,
            RebateToPass = l.Rebate,
            Cost = l.Cost,
            ProcessingFeeIfHouse = l.ProcessingFee,
            ChannelFeeIfHouse = l.ChannelFee,
            ProcessingFeeIfShared = l.ProcessingFee,
            ChannelFeeIfShared = l.ChannelFee,
        }).ToArray(),
        AfterRefund: false,
        NothingLeft: false);
}
