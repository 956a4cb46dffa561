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

/// <summary>The lines of an order as they stand, at the sale or after refunds: only until the next order's are asked for on the same thread.</summary>
internal readonly ref struct OrderState(ReadOnlySpan<LineState> lines, bool afterRefund, bool nothingLeft)
{
    // A thread works out one order after another; its lines are of use only meanwhile.
    [ThreadStatic]
    private static LineState[]? t_lines;

    public ReadOnlySpan<LineState> Lines { get; } = lines;
    public bool AfterRefund { get; } = afterRefund;
    public bool NothingLeft { get; } = nothingLeft;

    /// <summary>Room for the lines of the order that comes next.</summary>
    public static Span<LineState> Room(int count)
    {
        if (t_lines is null || t_lines.Length < count) t_lines = new LineState[Math.Max(count, 64)];
        return t_lines.AsSpan(0, count);
    }

    public static OrderState AtSale(OrderFigures figures)
    {
        var lines = Room(figures.LineSpan.Length);
        for (var i = 0; i < lines.Length; i++)
        {
            ref readonly var line = ref figures.LineSpan[i];
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
        return new OrderState(lines, afterRefund: false, nothingLeft: false);
    }
}
