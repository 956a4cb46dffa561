namespace EvenSplit.Books.Model;

/// <summary>Why entries were posted that no sale or refund caused by itself: a rule changed. They were posted together, so that their ids follow on one another.</summary>
public sealed class PostingCauseRecord
{
    public long FirstEntry { get; set; }
    public long LastEntry { get; set; }
    /// <summary>As the record of deeds has it: save fees, card from 3 Nov 2026.</summary>
    public required string Words { get; set; }
    public required string By { get; set; }
    public DateTimeOffset At { get; set; }
}

/// <summary>A form that was sent and did something: sent again, it does nothing more.</summary>
public sealed class SentFormRecord
{
    public required string Token { get; set; }
    public DateTimeOffset At { get; set; }
    /// <summary>Where it led; null where the page itself was the answer.</summary>
    public string? LedTo { get; set; }
}
