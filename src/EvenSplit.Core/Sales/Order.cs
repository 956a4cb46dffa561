namespace EvenSplit.Core;

/// <summary>One line of an order; amounts in minor units of the order's currency.</summary>
public sealed record OrderLine
{
    public required LineId Id { get; init; }
    public required ProductId Product { get; init; }
    public VariantId? Variant { get; init; }
    public required long Quantity { get; init; }
    public required long UnitPrice { get; init; }
    public long Discount { get; init; }
    /// <summary>What the store charged on the line, after discounts.</summary>
    public long Tax { get; init; }
    public bool RequiresShipping { get; init; }
    /// <summary>0 a trial, 1 the first or only payment, 2 and up renewals.</summary>
    public int? PaymentNumber { get; init; }
}

/// <summary>A click on a payee's link before the order.</summary>
public sealed record Click(PayeeId Payee, DateTimeOffset At);

/// <summary>An order as the shop reported it; amounts in minor units of <see cref="Currency"/>. Null fees are not known yet.</summary>
public sealed record Order
{
    private readonly OrderLine[] _lines = [];

    public required OrderId Id { get; init; }
    public required ChannelId Channel { get; init; }
    public required Currency Currency { get; init; }
    public required DateTimeOffset PlacedAt { get; init; }
    /// <summary>When it takes effect; null while unpaid.</summary>
    public DateTimeOffset? PaidAt { get; init; }
    public ProcessorId? Processor { get; init; }
    public bool IsTest { get; init; }
    public bool PricesIncludeTax { get; init; }
    public CustomerKind Customer { get; init; }
    public string? CustomerKey { get; init; }
    public OrderId? Origin { get; init; }
    public DateTimeOffset? SignedOffAt { get; init; }
    public long Discount { get; init; }
    /// <summary>As charged: with its tax where prices include tax.</summary>
    public long Shipping { get; init; }
    public long ShippingTax { get; init; }
    public long? ProcessingFee { get; init; }
    public long? ChannelFee { get; init; }
    public long? Rebate { get; init; }
    public PayeeId? ManualPayee { get; init; }
    public IReadOnlyList<string> Codes { get; init; } = [];
    public IReadOnlyList<Click> Clicks { get; init; } = [];
    public required IReadOnlyList<OrderLine> Lines
    {
        get => _lines;
        init => _lines = value as OrderLine[] ?? [.. value];
    }

    /// <summary>The same lines, for where they are gone through for every order.</summary>
    internal ReadOnlySpan<OrderLine> LineSpan => _lines;
}
