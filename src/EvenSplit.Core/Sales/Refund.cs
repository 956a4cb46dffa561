namespace EvenSplit.Core;

public enum RefundKind { Refund, Chargeback, Cancel }

/// <summary>What a refund gives back on one line: goods net of tax, tax, and units.</summary>
public sealed record RefundLine(LineId Line, long Quantity, long Goods, long Tax);

/// <summary>Money given back on an order, in minor units of the order's currency. A cancel takes back all that is left.</summary>
public sealed record Refund
{
    public required RefundId Id { get; init; }
    public required OrderId Order { get; init; }
    public required DateTimeOffset At { get; init; }
    public required RefundKind Kind { get; init; }
    /// <summary>Net of tax.</summary>
    public long Shipping { get; init; }
    public long ShippingTax { get; init; }
    public long ProcessingFeeReturned { get; init; }
    public long DisputeFee { get; init; }
    public IReadOnlyList<RefundLine> Lines { get; init; } = [];

    /// <summary>The instant from which it counts: never before the payment of its order.</summary>
    public DateTimeOffset TakesEffectAt(DateTimeOffset paidAt) => At < paidAt ? paidAt : At;
}
