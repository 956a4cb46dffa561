namespace EvenSplit.Core;

/// <summary>An amount that comes of an order or a run, or of what was reached before it, is beyond 2^63 − 1 (contract, section 10).</summary>
public sealed class BeyondLargestAmountException : OverflowException
{
    public BeyondLargestAmountException(OrderId order, Exception cause) : base(Say($"order '{order}'"), cause) => Order = order;

    public BeyondLargestAmountException(RunId run, Exception cause) : base(Say($"run '{run}'"), cause) => Run = run;

    /// <summary>The order whose sale or refund goes beyond; null where it is a run.</summary>
    public OrderId? Order { get; }

    public RunId? Run { get; }

    private static string Say(string what) => $"{what}: an amount that comes of it is beyond {long.MaxValue}, the largest there is.";
}
