namespace EvenSplit.Core;

/// <summary>One payment or refund that is settled, with what it adds to the tracks that are asked for.</summary>
/// <param name="On">Its date in the book's zone.</param>
/// <param name="Changes">To be read at once: the list is used again.</param>
public readonly record struct SettledEvent(BookEvents.Moment Moment, OrderId Order, RefundId? Refund, DateOnly On, IReadOnlyList<ProgressChange> Changes);

/// <summary>Follows a whole book while it is worked out.</summary>
public sealed record BookWatch
{
    /// <summary>Whether amounts carry their traces; then orders are worked out one after another.</summary>
    public bool Explain { get; init; }

    /// <summary>Receives every paid order's ledger after its last event, from one thread at a time.</summary>
    public Action<OrderLedger>? OnLedger { get; init; }

    /// <summary>Receives every event in its order; may come beside <see cref="OnLedger"/>.</summary>
    public Action<SettledEvent>? OnEvent { get; init; }

    /// <summary>The tracks to follow, where more are wanted than terms ask for.</summary>
    public ProgressTracks? Tracks { get; init; }
}
