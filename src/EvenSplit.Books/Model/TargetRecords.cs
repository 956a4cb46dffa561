using EvenSplit.Core;

namespace EvenSplit.Books.Model;

public enum TargetMeasure { Sales, Orders, Earned }

/// <summary>Something payees of an agreement can reach in a window, and what they get for it: a bonus, or a place on another agreement.</summary>
public sealed class TargetRecord
{
    public int Id { get; set; }
    public required string Name { get; set; }
    public required string AgreementId { get; set; }
    public TargetMeasure Measure { get; set; }
    /// <summary>Minor units of the agreement's currency, or a number of orders.</summary>
    public long AtLeast { get; set; }
    public ProgressWindow Window { get; set; }
    public DateOnly From { get; set; }
    /// <summary>From this day on it can no longer be reached; null without end.</summary>
    public DateOnly? To { get; set; }
    /// <summary>Minor units of the agreement's currency; null where the target moves the payee instead.</summary>
    public long? Bonus { get; set; }
    /// <summary>The agreement the payee moves to; null where the target brings a bonus.</summary>
    public string? MoveTo { get; set; }
}

public enum ReachedState { Proposed, Taken, Declined }

/// <summary>That a payee has reached a target in one window: proposed once, then taken or declined by a person.</summary>
public sealed class TargetReachedRecord
{
    public int Id { get; set; }
    public int TargetId { get; set; }
    public required string Payee { get; set; }
    public DateOnly WindowStart { get; set; }
    /// <summary>What the payee had reached when it was noticed.</summary>
    public long Figure { get; set; }
    public DateOnly NoticedOn { get; set; }
    public ReachedState State { get; set; }
    public string DecidedBy { get; set; } = "";
    public string Reason { get; set; } = "";
}
