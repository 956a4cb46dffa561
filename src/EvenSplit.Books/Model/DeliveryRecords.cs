namespace EvenSplit.Books.Model;

public enum DeliveryState { Waiting, Sent, Refused, GivenUp }

/// <summary>What became of a mail that a server is to send on. The mail itself is a file of the outbox.</summary>
public sealed class MailDeliveryRecord
{
    /// <summary>The mail's id in the outbox.</summary>
    public required string Id { get; set; }
    public DeliveryState State { get; set; }
    public int Tries { get; set; }
    /// <summary>Not before then; by the machine's clock.</summary>
    public DateTimeOffset NextAt { get; set; }
    /// <summary>What the server said last.</summary>
    public string Answer { get; set; } = "";
    public DateTimeOffset? SentAt { get; set; }
}
