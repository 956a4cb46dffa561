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
    /// <summary>The address it was mailed to, where opening it shows that this is the payee's new one; null where it signs in.</summary>
    public string? NewEmail { get; set; }
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

/// <summary>How much of the way to a share's base a payee is shown: the base alone, or each step.</summary>
public enum ShownSteps { Base, All }

/// <summary>What an agreement shows those who are on it. House figures, others' shares and unit costs are shown to nobody.</summary>
public sealed class AgreementViewRecord
{
    public required string AgreementId { get; set; }
    public ShownSteps Steps { get; set; }
    /// <summary>The order's id; a number that stands for it otherwise.</summary>
    public bool ShowsOrders { get; set; } = true;
    /// <summary>Fees of processors and channels as steps of their own.</summary>
    public bool ShowsFees { get; set; }
    /// <summary>Whether the book writes the payee's invoice for each payment.</summary>
    public bool SelfBills { get; set; }
}

/// <summary>A payee who is paid on request asks for a payment.</summary>
public sealed class PaymentRequestRecord
{
    public int Id { get; set; }
    public required string Payee { get; set; }
    public DateTimeOffset AskedAt { get; set; }
    /// <summary>The run that answered it; null while it is open.</summary>
    public int? RunId { get; set; }
    public DateTimeOffset? WithdrawnAt { get; set; }
}

/// <summary>A tax form that a payee sent.</summary>
public sealed class TaxFormRecord
{
    public int Id { get; set; }
    public required string Payee { get; set; }
    /// <summary>The file's name as it came.</summary>
    public required string FileName { get; set; }
    /// <summary>The file, sealed.</summary>
    public required byte[] Content { get; set; }
    public DateTimeOffset At { get; set; }
    public string? CheckedBy { get; set; }
    public DateTimeOffset? CheckedAt { get; set; }
    /// <summary>Why it was not taken; the payee reads it. Empty where it was, or waits.</summary>
    public string Refusal { get; set; } = "";
}

/// <summary>Texts and pictures that payees may use.</summary>
public sealed class MaterialRecord
{
    public int Id { get; set; }
    /// <summary>For those who are on it; null for all.</summary>
    public string? AgreementId { get; set; }
    public required string Name { get; set; }
    /// <summary>In which {link} and {code} stand for their own.</summary>
    public required string Text { get; set; }
    public byte[]? Picture { get; set; }
    /// <summary>As image/png.</summary>
    public string? PictureType { get; set; }
    public DateOnly From { get; set; }
    /// <summary>The last day; null for no end.</summary>
    public DateOnly? To { get; set; }
}

/// <summary>An invoice that the book wrote in a payee's name for one payment, as it was issued. Never edited.</summary>
public sealed class SelfBillRecord
{
    public int RunId { get; set; }
    public required string Payee { get; set; }
    /// <summary>Without gaps for each payee, from 1.</summary>
    public int Number { get; set; }
    public DateOnly IssuedOn { get; set; }
    /// <summary>Who supplied: name, postal address, tax number, a line each.</summary>
    public required string Supplier { get; set; }
    /// <summary>For whom: the same of the book.</summary>
    public required string Recipient { get; set; }
    /// <summary>What was supplied under each agreement, as JSON of <see cref="SelfBillLine"/>.</summary>
    public required string Lines { get; set; }
}

/// <param name="Agreement">Its name then.</param>
/// <param name="Entries">How many the run took under it.</param>
/// <param name="Minor">Their sum in minor units of the currency.</param>
public sealed record SelfBillLine(string Agreement, long Entries, long Minor, string Currency);
