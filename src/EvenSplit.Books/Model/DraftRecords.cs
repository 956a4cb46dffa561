namespace EvenSplit.Books.Model;

/// <summary>An agreement, or the next version of one, that is still being written.</summary>
public sealed class AgreementDraftRecord
{
    public int Id { get; set; }
    /// <summary>The agreement it is the next version of; null for a new one.</summary>
    public string? AgreementId { get; set; }
    public required string Name { get; set; }
    /// <summary>What was typed, as JSON.</summary>
    public required string Document { get; set; }
    public DateTimeOffset SavedAt { get; set; }
    public required string SavedBy { get; set; }
}

public enum RehearsalState { Waiting, Running, Done, Failed }

/// <summary>A draft worked over past orders, nothing posted. Its state lives here, so a restart goes on with it and a reload shows where it is.</summary>
public sealed class RehearsalRecord
{
    public int Id { get; set; }
    /// <summary>The agreement in whose place the draft is worked out, for whoever is on that.</summary>
    public required string AgreementId { get; set; }
    /// <summary>The saved draft it is of; it may have been written on since.</summary>
    public int DraftId { get; set; }
    /// <summary>Whether it was asked for because the draft is to be published from the first day rehearsed.</summary>
    public bool ToPublish { get; set; }
    /// <summary>What was typed, as JSON.</summary>
    public required string Document { get; set; }
    /// <summary>First and last day of placing of the orders compared, in the book's zone.</summary>
    public DateOnly From { get; set; }
    public DateOnly To { get; set; }
    public RehearsalState State { get; set; }
    public long Total { get; set; }
    public long Done { get; set; }
    /// <summary>What came of it, as JSON; null until then.</summary>
    public string? Result { get; set; }
    public string? Fault { get; set; }
    public required string AskedBy { get; set; }
    public DateTimeOffset AskedAt { get; set; }
}

public enum BulkKind { Products, Terms, Payees }

public enum BulkState { Shown, Applied, Undone, Discarded }

/// <summary>A file of changes to the catalogue, to terms or to payees: shown as a difference first, then applied whole or not at all.</summary>
public sealed class BulkChangeRecord
{
    public int Id { get; set; }
    public BulkKind Kind { get; set; }
    public required string FileName { get; set; }
    /// <summary>The file itself; the difference is worked out from it anew each time it is shown. Of payees sealed while it waits, and gone after: account numbers may stand in it.</summary>
    public required string Content { get; set; }

    /// <summary>For products: whether those the file does not have are to go.</summary>
    public bool IsWhole { get; set; }
    /// <summary>For terms: the day from which they hold.</summary>
    public DateOnly? From { get; set; }
    public BulkState State { get; set; }
    /// <summary>What was there before it was applied, as JSON.</summary>
    public string? Before { get; set; }
    public required string By { get; set; }
    public DateTimeOffset At { get; set; }
}
