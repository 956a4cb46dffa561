using EvenSplit.Core;

namespace EvenSplit.Books.Model;

/// <summary>A person's word that an exception of an order may stand. It outlives the order's being worked out again; while it stands the exception counts no more.</summary>
public sealed class AcceptedExceptionRecord
{
    public long OrderId { get; set; }
    public ExceptionCode Code { get; set; }
    /// <summary>Empty where the exception names no line.</summary>
    public required string LineId { get; set; }
    /// <summary>Empty where the exception names no payee.</summary>
    public required string Payee { get; set; }
    public required string Reason { get; set; }
    public required string By { get; set; }
    public DateTimeOffset At { get; set; }
}

/// <summary>A comment on a cause of exceptions, and to whom it is given to be dealt with.</summary>
public sealed class CauseNoteRecord
{
    public int Id { get; set; }
    public ExceptionCode Code { get; set; }
    /// <summary>The processor, currency, product or payee the exceptions are about; empty where each order is its own.</summary>
    public required string Subject { get; set; }
    public required string Text { get; set; }
    /// <summary>Empty where it is a comment only.</summary>
    public required string AssignedTo { get; set; }
    public required string By { get; set; }
    public DateTimeOffset At { get; set; }
}

/// <summary>What a payee earns on a line under an agreement, held back by hand with a reason until it is let go: it clears on no day.</summary>
public sealed class EntryHoldRecord
{
    public int Id { get; set; }
    public long OrderId { get; set; }
    public int LineNumber { get; set; }
    public required string Payee { get; set; }
    public required string Agreement { get; set; }
    public required string Reason { get; set; }
    public required string By { get; set; }
    public DateTimeOffset At { get; set; }
    public string? LetGoBy { get; set; }
    public DateTimeOffset? LetGoAt { get; set; }
}
