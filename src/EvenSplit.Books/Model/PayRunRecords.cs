using EvenSplit.Core;

namespace EvenSplit.Books.Model;

public enum RunState { Gathering, Locked, Approved, Issued, Closed }

public sealed class PayRunRecord
{
    public int Id { get; set; }
    /// <summary>What it is known by outside the book.</summary>
    public required string Reference { get; set; }
    /// <summary>Whom it serves; null for everyone.</summary>
    public List<string>? Payees { get; set; }
    public DateOnly AsOf { get; set; }
    public RunState State { get; set; }
    public required string PreparedBy { get; set; }
    public string? LockedBy { get; set; }
    public DateTimeOffset? LockedAt { get; set; }
    public string? ApprovedBy { get; set; }
    public DateTimeOffset? ApprovedAt { get; set; }
    public List<RemittanceRecord> Remittances { get; set; } = [];
}

public enum RemittanceState { Ready, Confirmed }

/// <summary>One payee's figures in a locked run, minor units of <see cref="Currency"/>. The figures never change again.</summary>
public sealed class RemittanceRecord
{
    public int Id { get; set; }
    public int RunId { get; set; }
    public required string Payee { get; set; }
    public required string Currency { get; set; }
    public long Opening { get; set; }
    public long Earned { get; set; }
    public long Adjustments { get; set; }
    public long Recouped { get; set; }
    public long Withheld { get; set; }
    public long TransferFee { get; set; }
    public long Paid { get; set; }
    public long Carried { get; set; }
    public RemittanceReason Reason { get; set; }
    public RemittanceState State { get; set; }
    public DateOnly? PaidOn { get; set; }
    public string? Reference { get; set; }
}

/// <summary>What a run took back of an advance.</summary>
public sealed class RecoupmentRecord
{
    public int Id { get; set; }
    public int RunId { get; set; }
    public int AdvanceId { get; set; }
    public long Amount { get; set; }
}

public enum AdjustmentKind { Bonus, Recharge, Correction }

/// <summary>A signed amount with a note the payee will read; may be taken back until a run has taken it.</summary>
public sealed class AdjustmentRecord
{
    public int Id { get; set; }
    /// <summary>What it is known by outside the book.</summary>
    public required string Reference { get; set; }
    public required string Payee { get; set; }
    public DateOnly On { get; set; }
    public long Amount { get; set; }
    public required string Currency { get; set; }
    public AdjustmentKind Kind { get; set; }
    public required string Note { get; set; }
    public int? RunId { get; set; }
    public required string By { get; set; }
}
