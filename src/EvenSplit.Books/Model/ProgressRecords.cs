using EvenSplit.Core;

namespace EvenSplit.Books.Model;

/// <summary>A track that terms of the book ask for and whose events are all kept.</summary>
public sealed class ProgressTrackRecord
{
    public required string Payee { get; set; }
    /// <summary>Empty under referral, where all agreements of a payee share their figures.</summary>
    public required string Agreement { get; set; }
    public required string Currency { get; set; }
}

/// <summary>What one payment or refund added to a track. How the track stood before an order is the days before it and the events of its day.</summary>
public sealed class ProgressEventRecord
{
    public required string Payee { get; set; }
    public required string Agreement { get; set; }
    public required string Currency { get; set; }
    /// <summary>UTC ticks of the instant from which the event counts.</summary>
    public long At { get; set; }
    public bool IsRefund { get; set; }
    /// <summary>Of the order, or of the refund.</summary>
    public required string EventId { get; set; }
    public long OrderId { get; set; }
    /// <summary>Date of the instant in the book's zone.</summary>
    public DateOnly On { get; set; }
    public long Sales { get; set; }
    public long Orders { get; set; }
    public long Earned { get; set; }
}

/// <summary>Kept sum of the events of a track on one day: an event that comes late changes its own day and no other row.</summary>
public sealed class ProgressDayRecord
{
    public required string Payee { get; set; }
    public required string Agreement { get; set; }
    public required string Currency { get; set; }
    public DateOnly On { get; set; }
    public long Sales { get; set; }
    public long Orders { get; set; }
    public long Earned { get; set; }
    /// <summary>The highest the day's own sum of sales stood at, never below 0; so of orders and of what was earned.</summary>
    public long HighestSales { get; set; }
    public long HighestOrders { get; set; }
    public long HighestEarned { get; set; }

    internal ProgressSpan Span
    {
        get => new(new ProgressFigures(Sales, Orders, Earned), new ProgressFigures(HighestSales, HighestOrders, HighestEarned));
        init => ((Sales, Orders, Earned), (HighestSales, HighestOrders, HighestEarned)) = (value.Sum, value.Highest);
    }
}
