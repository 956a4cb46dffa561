namespace EvenSplit.Core;

/// <summary>A line of the waterfall at the sale (contract, section 2): minor units of the order's currency.</summary>
public readonly record struct LineFigures
{
    internal LineFigures(SoldProduct sold) => Sold = sold;

    internal SoldProduct Sold { get; }
    public required OrderLine Line { get; init; }
    public Product Product => Sold.Product;
    /// <summary>Before any discount.</summary>
    public long List => Line.UnitPrice * Line.Quantity;
    public required long Discount { get; init; }
    public required long DiscountExTax { get; init; }
    public required long GoodsNet { get; init; }
    public long Tax => Line.Tax;
    public required long Shipping { get; init; }
    public required long ShippingTax { get; init; }
    public required long ProcessingFee { get; init; }
    public required long ChannelFee { get; init; }
    public required long Rebate { get; init; }
    public required long Cost { get; init; }
}

/// <summary>Where a fee or rebate came from, for the trace.</summary>
public enum FeeSource { None, Actual, Schedule, Missing }

/// <summary>What an order brought in and what left it before anybody's share: minor units of the order's currency.</summary>
public sealed record OrderFigures
{
    private readonly LineFigures[] _lines;

    internal OrderFigures(LineFigures[] lines) => _lines = lines;

    public IReadOnlyList<LineFigures> Lines => _lines;
    /// <summary>The same lines, for where they are gone through for every order.</summary>
    internal ReadOnlySpan<LineFigures> LineSpan => _lines;
    public required long GoodsNet { get; init; }
    public required long ShippingNet { get; init; }
    public required long ShippingTax { get; init; }
    /// <summary>All tax, the shipping tax included.</summary>
    public required long Tax { get; init; }
    public required long Charged { get; init; }
    public required long ProcessingFee { get; init; }
    public required FeeSource ProcessingFeeSource { get; init; }
    public required long ChannelFee { get; init; }
    public required FeeSource ChannelFeeSource { get; init; }
    public required long Rebate { get; init; }
}
