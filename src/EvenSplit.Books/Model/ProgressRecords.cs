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

/// <summary>
/// What one payment or refund added to a track, and how the track stood after it: what a payee had reached before an order is one look-up.
/// </summary>
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
    /// <summary>Running and highest figures per window after the event.</summary>
    public ProgressState After { get; set; }
}
