using EvenSplit.Core;

namespace EvenSplit.Books.Model;

/// <summary>Anyone who may be owed money. Amounts in minor units of the payout currency.</summary>
public sealed class PayeeRecord
{
    public required string Id { get; set; }
    /// <summary>Payees are listed in the order in which they joined.</summary>
    public int Position { get; set; }
    public required string Name { get; set; }
    public PayeeRole Role { get; set; }
    public string? Email { get; set; }
    public required string PayoutCurrency { get; set; }
    public DateOnly ActiveFrom { get; set; }
    public DateOnly? ActiveTo { get; set; }
    public int? HoldDays { get; set; }
    public bool OnHold { get; set; }
    public long Minimum { get; set; }
    public Rate WithholdingPercent { get; set; }
    public long TransferFee { get; set; }
    public int FreeTransfers { get; set; }
    public Rate RecoupPercent { get; set; }
    public PayoutMethod Method { get; set; }
    /// <summary>In the words of payees.csv.</summary>
    public string Schedule { get; set; } = "monthly";
    /// <summary>Which tax form is on file; empty where none is.</summary>
    public string TaxForm { get; set; } = "";
    /// <summary>In which they are written to, as en or pt-BR; empty where it is not known.</summary>
    public string Language { get; set; } = "";
    /// <summary>Where letters reach them.</summary>
    public string PostalAddress { get; set; } = "";
    /// <summary>Under which the tax office knows them; empty where it is not known.</summary>
    public string TaxNumber { get; set; } = "";
    /// <summary>They want no mailings; what concerns their money is mailed all the same.</summary>
    public bool IsUnsubscribed { get; set; }
    /// <summary>They read statements on their pages and want none by mail.</summary>
    public bool WithoutAdvices { get; set; }
    /// <summary>Earns for what this payee earns, where the agreement's version says so.</summary>
    public string? RecruitedBy { get; set; }
    /// <summary>What the shop calls them as a buyer: orders of their own are no referral.</summary>
    public List<string> CustomerKeys { get; set; } = [];
    public List<PayeeCodeRecord> Codes { get; set; } = [];
    public List<MembershipRecord> Memberships { get; set; } = [];
    public List<AdvanceRecord> Advances { get; set; } = [];
    public List<PersonalTermRecord> PersonalTerms { get; set; } = [];
}

/// <summary>A term for one payee that comes before the agreement's own, in the words of the scenario file.</summary>
public sealed class PersonalTermRecord
{
    public int Id { get; set; }
    public string PayeeId { get; set; } = "";
    public required string AgreementId { get; set; }
    public DateOnly? From { get; set; }
    public DateOnly? To { get; set; }
    public required string Document { get; set; }
}

/// <summary>A coupon code; kept as written, on any day of one payee without regard to ASCII case.</summary>
public sealed class PayeeCodeRecord
{
    public int Id { get; set; }
    public required string Code { get; set; }
    public string PayeeId { get; set; } = "";
    /// <summary>The first day on which it counts; null where it always did.</summary>
    public DateOnly? From { get; set; }
    /// <summary>The first day on which it counts no more; null for no end.</summary>
    public DateOnly? To { get; set; }

    public PayeeCode ToCode() => new(Code, From, To);
}

public sealed class MembershipRecord
{
    public int Id { get; set; }
    public string PayeeId { get; set; } = "";
    public required string AgreementId { get; set; }
    public DateOnly From { get; set; }
    public DateOnly? To { get; set; }
    /// <summary>The products it is for; null for all, empty for none.</summary>
    public List<string>? Products { get; set; }
}

public sealed class AdvanceRecord
{
    public int Id { get; set; }
    public string PayeeId { get; set; } = "";
    /// <summary>What it is known by among the payee's advances.</summary>
    public required string Reference { get; set; }
    public DateOnly On { get; set; }
    public long Amount { get; set; }
    public required string Note { get; set; }
}

public sealed class AgreementRecord
{
    public required string Id { get; set; }
    public required string Name { get; set; }
    public Basis Basis { get; set; }
    public required string Currency { get; set; }
    /// <summary>Whether new affiliates are put on it as they are added; only for referral.</summary>
    public bool ForNewAffiliates { get; set; }
    public List<AgreementVersionRecord> Versions { get; set; } = [];
}

/// <summary>A published version, in the words of the scenario file. Never edited, held so by the database.</summary>
public sealed class AgreementVersionRecord
{
    public int Id { get; set; }
    public string AgreementId { get; set; } = "";
    public DateOnly From { get; set; }
    public required string Document { get; set; }
    /// <summary>What was agreed in words, as Markdown; empty where there is none.</summary>
    public string Text { get; set; } = "";
    public DateTimeOffset PublishedAt { get; set; }
    public required string PublishedBy { get; set; }
}

/// <summary>That a version was taken back before it came into force: it never governs, and stays to be seen.</summary>
public sealed class WithdrawnVersionRecord
{
    public int VersionId { get; set; }
    public required string By { get; set; }
    public DateTimeOffset At { get; set; }
}

/// <summary>A payee's word that they accept a version as it was published. Never edited.</summary>
public sealed class AcceptanceRecord
{
    public int Id { get; set; }
    public int VersionId { get; set; }
    public required string Payee { get; set; }
    public DateOnly AcceptedOn { get; set; }
    /// <summary>How: by letter, by mail, in person.</summary>
    public required string Note { get; set; }
    public required string RecordedBy { get; set; }
    public DateTimeOffset RecordedAt { get; set; }
}
