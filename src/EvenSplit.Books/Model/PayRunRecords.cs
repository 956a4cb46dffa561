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
    public DateTimeOffset? IssuedAt { get; set; }
    public List<RemittanceRecord> Remittances { get; set; } = [];

    /// <summary>Who did both, where nobody else had a part in it; else null.</summary>
    public string? OnePerson => ApprovedBy is not null && (ApprovedBy == PreparedBy || ApprovedBy == LockedBy) ? ApprovedBy : null;
}

/// <remarks>SetAside: taken out of a locked run before it was sent. It is owed again, as what was refused or returned is.</remarks>
public enum RemittanceState { Ready, Confirmed, Sent, Refused, Returned, SetAside }

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
    /// <summary>Under which the bank or wallet shows the payment.</summary>
    public string? Reference { get; set; }
    /// <summary>Fixed as the run is locked.</summary>
    public PayoutMethod Method { get; set; }
    /// <summary>The payout details it goes to; null where the method needs none, or there were none.</summary>
    public int? DetailsId { get; set; }
    /// <summary>The payee with whose payment it goes out; null where it is paid to its own.</summary>
    public string? Through { get; set; }
    /// <summary>Not before this day, in the book's zone: an invoice on it is due then. Null for at once.</summary>
    public DateOnly? ExecuteOn { get; set; }
    /// <summary>The reference a payment file carries, unlike any other payment's for ever; null until it is issued. What goes out as one payment has one.</summary>
    public string? EndToEnd { get; set; }
    public int? FileId { get; set; }
    /// <summary>Why it did not arrive.</summary>
    public string? Why { get; set; }
    /// <summary>The day on which it was refused, returned or set aside.</summary>
    public DateOnly? CameBackOn { get; set; }
    /// <summary>The file that shows a payment by hand, among the book's uploads.</summary>
    public string? Evidence { get; set; }
}

/// <summary>That an invoice which was agreed stands on a remittance (reconcile contract, section 4).</summary>
public sealed class NotedInvoiceRecord
{
    /// <summary>The line of the invoice among the partners' lines.</summary>
    public long LineId { get; set; }
    public int RunId { get; set; }
    public required string Payee { get; set; }
}

/// <summary>What a run took back of an advance.</summary>
public sealed class RecoupmentRecord
{
    public int Id { get; set; }
    public int RunId { get; set; }
    public int AdvanceId { get; set; }
    public long Amount { get; set; }
}

/// <remarks>Returned: a payment that did not arrive and is owed again. WriteOff: a balance given up by two persons.</remarks>
public enum AdjustmentKind { Bonus, Recharge, Correction, Returned, WriteOff }

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
