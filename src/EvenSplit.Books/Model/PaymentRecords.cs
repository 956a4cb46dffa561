namespace EvenSplit.Books.Model;

/// <summary>How a payee is paid. By hand is what holds until something else was agreed.</summary>
/// <remarks>Through: with the payment of another payee, such as a network or an agent. Of a payment itself it is never the method.</remarks>
public enum PayoutMethod { ByHand, Bank, Wallet, StoreCredit, Through }

/// <summary>
/// Where a payee's money goes. Whoever proposes it, another person confirms it, and two days later it may be used; what held before holds until then.
/// </summary>
public sealed class PayoutDetailsRecord
{
    public int Id { get; set; }
    public required string Payee { get; set; }
    public PayoutMethod Method { get; set; }
    /// <summary>The details themselves, encrypted with the book's keys.</summary>
    public required byte[] Protected { get; set; }
    /// <summary>What may be shown: the country and the last four characters, or the recipient's first and last.</summary>
    public required string Shown { get; set; }
    public required string ProposedBy { get; set; }
    public DateTimeOffset ProposedAt { get; set; }
    public string? ConfirmedBy { get; set; }
    /// <summary>The first day on which a run may use them; null until they are confirmed.</summary>
    public DateOnly? UsableFrom { get; set; }
    public string? RefusedBy { get; set; }
    /// <summary>Whether <see cref="Protected"/> is sealed for this payee and row, so that it opens nowhere else.</summary>
    public bool IsBound { get; set; }
    /// <summary>A payment to them came back: nothing is sent there before somebody has looked.</summary>
    public bool CameBack { get; set; }
}

/// <summary>The seller's own account that payments of a currency leave from.</summary>
public sealed class PayingAccountRecord
{
    public required string Currency { get; set; }
    public required string Holder { get; set; }
    public required string Iban { get; set; }
    public required string Bic { get; set; }
}

/// <summary>A file a run was issued as: payments of one method in one currency. Never changed.</summary>
public sealed class PaymentFileRecord
{
    public int Id { get; set; }
    public int RunId { get; set; }
    public PayoutMethod Method { get; set; }
    public required string Currency { get; set; }
    /// <summary>Unlike that of any other file for ever: a bank takes it once.</summary>
    public required string MessageId { get; set; }
    public required string FileName { get; set; }
    /// <summary>The file, encrypted, since account numbers stand in it.</summary>
    public required byte[] Protected { get; set; }
    public int Payments { get; set; }
    public long Sum { get; set; }
    public DateTimeOffset MadeAt { get; set; }
    public required string MadeBy { get; set; }
    /// <summary>When it was laid where the bank or wallet fetches it; null where it has still to be, or nobody fetches it.</summary>
    public DateTimeOffset? DeliveredAt { get; set; }
}

/// <summary>A message of a bank or wallet that was read, so that it is never read twice.</summary>
public sealed class PaymentMessageRecord
{
    public int Id { get; set; }
    public required string Kind { get; set; }
    public required string MessageId { get; set; }
    public required string FileName { get; set; }
    public DateTimeOffset ReadAt { get; set; }
    public required string ReadBy { get; set; }
    public int Confirmed { get; set; }
    public int Refused { get; set; }
    public int Returned { get; set; }
    /// <summary>Payments that did not arrive as it says, for a second person to say so too.</summary>
    public int Doubted { get; set; }
    /// <summary>References in it that are not of this book, with a space between.</summary>
    public required string Unknown { get; set; }
}

/// <remarks>Returned, Refused: an uploaded file says so, which alone owes nothing again. PaidThoughRefused: a payment that was refused has left the account all the same.</remarks>
public enum PaymentDoubtKind { Returned, Refused, PaidThoughRefused }

/// <summary>What a message says about a payment that a second person has to look at.</summary>
public sealed class PaymentDoubtRecord
{
    public int Id { get; set; }
    public int RemittanceId { get; set; }
    public PaymentDoubtKind Kind { get; set; }
    /// <summary>The reason the message gives, or what was done about it.</summary>
    public required string Says { get; set; }
    public required string FileName { get; set; }
    public required string RaisedBy { get; set; }
    public DateTimeOffset RaisedAt { get; set; }
    /// <summary>Null while it waits.</summary>
    public string? SettledBy { get; set; }
    public DateTimeOffset? SettledAt { get; set; }
    /// <summary>Whether it was found to be so.</summary>
    public bool IsUpheld { get; set; }
}

/// <summary>A rate a run converted with, fixed as it was locked.</summary>
public sealed class RunRateRecord
{
    public int RunId { get; set; }
    public required string From { get; set; }
    public required string To { get; set; }
    /// <summary>In words: which published rate of which day, or by way of which currency.</summary>
    public required string Source { get; set; }
    /// <summary>Minor units of <see cref="To"/> for one of <see cref="From"/>, as a fraction; null where there was no rate, and in runs locked before this was kept.</summary>
    public string? Factor { get; set; }
}

/// <summary>What is unusual about a remittance.</summary>
public enum RunMark { Jump, FirstPayment, NewDetails, RefundRate, NoTaxForm, NoDetails, DetailsCameBack, OwedAgain }

/// <summary>Something unusual about a remittance of a locked run, that somebody looks at before the run is approved.</summary>
public sealed class RunMarkRecord
{
    public int RunId { get; set; }
    public required string Payee { get; set; }
    public RunMark Mark { get; set; }
    public required string Says { get; set; }
    public string? LookedAtBy { get; set; }
}

/// <summary>A day on which nobody works, beside Saturdays and Sundays.</summary>
public sealed class HolidayRecord
{
    public DateOnly On { get; set; }
    public required string Name { get; set; }
}

/// <summary>A balance to be given up: one person proposes it, another confirms.</summary>
public sealed class WriteOffRecord
{
    public int Id { get; set; }
    public required string Payee { get; set; }
    /// <summary>What is posted to make the balance nothing: minor units of the payout currency.</summary>
    public long Amount { get; set; }
    public required string Currency { get; set; }
    public required string Reason { get; set; }
    public required string ProposedBy { get; set; }
    public DateTimeOffset ProposedAt { get; set; }
    public string? ConfirmedBy { get; set; }
    public string? RefusedBy { get; set; }
}
