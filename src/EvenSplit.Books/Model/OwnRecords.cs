namespace EvenSplit.Books.Model;

/// <summary>A link by which a payee signs in: once, for a short while, in the browser that asked for it.</summary>
public sealed class PayeeLinkRecord
{
    /// <summary>SHA-256 of what the mailed link has; hexadecimal.</summary>
    public required string TokenHash { get; set; }
    public required string Payee { get; set; }
    /// <summary>SHA-256 of what the browser that asked keeps; null for a link that the house has sent.</summary>
    public string? BrowserHash { get; set; }
    public DateTimeOffset At { get; set; }
    public DateTimeOffset? UsedAt { get; set; }
}

/// <summary>A payee's sign-in in one browser.</summary>
public sealed class PayeeSessionRecord
{
    public required string Id { get; set; }
    public required string Payee { get; set; }
    public DateTimeOffset StartedAt { get; set; }
    /// <summary>The network address it came from.</summary>
    public required string Origin { get; set; }
    /// <summary>What the browser calls itself.</summary>
    public required string Browser { get; set; }
    public DateTimeOffset? EndedAt { get; set; }
}

/// <summary>What a payee asks about an entry or a statement, and what is answered. Never edited.</summary>
public sealed class PayeeQuestionRecord
{
    public int Id { get; set; }
    public required string Payee { get; set; }
    public long? EntryId { get; set; }
    public int? RunId { get; set; }
    public required string Question { get; set; }
    public DateTimeOffset AskedAt { get; set; }
    public string? Answer { get; set; }
    public string? AnsweredBy { get; set; }
    public DateTimeOffset? AnsweredAt { get; set; }
}
