using EvenSplit.Formats.Events;

namespace EvenSplit.Books.Model;

public enum EventState { Waiting, Taken, WaitsForOrder, Quarantined, Failed }

/// <summary>An event as a shop reported it, stored before it was answered and never twice.</summary>
public sealed class InboxEventRecord
{
    /// <summary>Events are taken in this order.</summary>
    public long Id { get; set; }
    /// <summary>The sender's id of the event: the same again from the same source is known and changes nothing.</summary>
    public required string EventId { get; set; }
    public required string Source { get; set; }
    public SalesEventKind Kind { get; set; }
    /// <summary>The order it is about; empty for a click that names a visitor.</summary>
    public required string Order { get; set; }
    public required byte[] Body { get; set; }
    public DateTimeOffset ReceivedAt { get; set; }
    public EventState State { get; set; }
    /// <summary>Why it was set aside or could not be taken.</summary>
    public string? Fault { get; set; }
}

/// <summary>A shop that may send events. Its secret is a file among the book's keys, not here.</summary>
public sealed class EventSourceRecord
{
    public required string Id { get; set; }
    public required string Name { get; set; }
    /// <summary>The channels whose orders it may report; null for one that was set up before sources were bound to channels, which may report any.</summary>
    public List<string>? Channels { get; set; }
    public required string AddedBy { get; set; }
    public DateTimeOffset AddedAt { get; set; }
    /// <summary>From then on its events are refused; null while it may send.</summary>
    public DateTimeOffset? ClosedAt { get; set; }
}

/// <summary>A click on a payee's link, logged with where it came from.</summary>
public sealed class ClickRecord
{
    public long Id { get; set; }
    public required string Payee { get; set; }
    public DateTimeOffset At { get; set; }
    /// <summary>Empty where the click names its order.</summary>
    public required string Visitor { get; set; }
    /// <summary>The shop's id of the order; empty where the click names a visitor.</summary>
    public required string Order { get; set; }
    public required string Page { get; set; }
    public required string Source { get; set; }
    /// <summary>The month of <see cref="At"/>.</summary>
    public int Period { get; set; }
}
