using EvenSplit.Core;

namespace EvenSplit.Books.Model;

/// <summary>Who may join an agreement: nobody, who is approved, or whoever asks.</summary>
public enum JoiningWay { Nobody, OnApproval, AtOnce }

public enum QuestionKind { Short, Long, OneOf, YesNo, Link }

/// <summary>What a person gets as they join.</summary>
public enum GiftKind { None, Advance, Bonus, Goods }

/// <summary>What happens while somebody has not accepted the version in force: nothing, or no run pays them.</summary>
public enum UnacceptedRule { GoesOn, HoldsPayments }

/// <summary>A question to whoever asks to take part.</summary>
/// <param name="Choices">What may be answered; for one of several only.</param>
public sealed record JoiningQuestion(string Words, QuestionKind Kind, bool IsNeeded, IReadOnlyList<string> Choices);

/// <summary>How people come to an agreement.</summary>
public sealed class JoiningRecord
{
    public required string AgreementId { get; set; }
    public JoiningWay Way { get; set; }
    /// <summary>What the public page says, as Markdown.</summary>
    public string Intro { get; set; } = "";
    /// <summary>In order, as JSON.</summary>
    public string Questions { get; set; } = "[]";
    /// <summary>Days after payment before a new person's earnings clear, until they have their record; null for the agreement's own.</summary>
    public int? HoldDays { get; set; }
    /// <summary>The record: so many days since they joined, so many orders brought, and no higher a share refunded.</summary>
    public int RecordDays { get; set; }
    public int RecordOrders { get; set; }
    public Rate RecordRefunds { get; set; }
    public GiftKind Gift { get; set; }
    /// <summary>Minor units of the agreement's currency; for goods what they cost the house.</summary>
    public long GiftAmount { get; set; }
    public string GiftNote { get; set; } = "";
    /// <summary>Since when nobody brings anything by it; null while it runs.</summary>
    public DateOnly? PausedOn { get; set; }
    /// <summary>What happens until a new version is accepted.</summary>
    public UnacceptedRule Unaccepted { get; set; }
}

/// <summary>Goods that somebody was given as they joined, at what they cost the house. Nobody is owed for them.</summary>
public sealed class GivenGoodsRecord
{
    public int Id { get; set; }
    public required string Payee { get; set; }
    public required string AgreementId { get; set; }
    public DateOnly On { get; set; }
    /// <summary>Minor units of the currency.</summary>
    public long Cost { get; set; }
    public required string Currency { get; set; }
    public required string Note { get; set; }
}

/// <summary>Whose time on an agreement a pause ended, to be taken up again after it.</summary>
public sealed class PausedMembershipRecord
{
    public required string AgreementId { get; set; }
    public required string Payee { get; set; }
    public List<string>? Products { get; set; }
}

public enum ApplicationState { Unconfirmed, Waiting, AskedBack, Approved, Declined }

/// <summary>Somebody asks to take part. Counts from when their address is confirmed.</summary>
public sealed class ApplicationRecord
{
    public int Id { get; set; }
    public required string AgreementId { get; set; }
    public required string Name { get; set; }
    /// <summary>In small letters.</summary>
    public required string Email { get; set; }
    /// <summary>Where they are paid: two letters as ISO 3166 has them.</summary>
    public required string Country { get; set; }
    public string Sites { get; set; } = "";
    public string Note { get; set; } = "";
    /// <summary>Questions as they stood with what was answered, as JSON.</summary>
    public string Answers { get; set; } = "[]";
    /// <summary>The version whose text they accepted as they asked; null where the agreement had none.</summary>
    public int? VersionId { get; set; }
    /// <summary>SHA-256 of what the mailed link has; hexadecimal.</summary>
    public required string TokenHash { get; set; }
    /// <summary>The network address it was asked from.</summary>
    public required string From { get; set; }
    public DateTimeOffset AskedAt { get; set; }
    public DateTimeOffset? ConfirmedAt { get; set; }
    public ApplicationState State { get; set; }
    public string? DecidedBy { get; set; }
    public DateTimeOffset? DecidedAt { get; set; }
    /// <summary>Why it was declined, or what is asked back; the person reads it.</summary>
    public string Reason { get; set; } = "";
    /// <summary>Whom the book has made of them.</summary>
    public string? Payee { get; set; }
}

/// <summary>That somebody was asked to take part, approved in advance.</summary>
public sealed class InvitationRecord
{
    public int Id { get; set; }
    public required string AgreementId { get; set; }
    /// <summary>Empty where it is not known.</summary>
    public string Name { get; set; } = "";
    /// <summary>In small letters.</summary>
    public required string Email { get; set; }
    /// <summary>SHA-256 of what the mailed link has; hexadecimal. Sent again, the link before opens no more.</summary>
    public required string TokenHash { get; set; }
    public required string By { get; set; }
    public DateTimeOffset At { get; set; }
    /// <summary>How often it was mailed.</summary>
    public int Sent { get; set; }
    public DateTimeOffset? OpenedAt { get; set; }
    public DateTimeOffset? AcceptedAt { get; set; }
    public DateTimeOffset? WithdrawnAt { get; set; }
    public string? Payee { get; set; }
}

/// <summary>What mails the application writes by itself.</summary>
public enum MailKind { Confirm, Welcome, Declined, AskedBack, Invitation, Advice, DetailsChanged, NewVersion }

/// <summary>A mail in the lead's own words, with fields in braces.</summary>
public sealed class MailTemplateRecord
{
    public MailKind Kind { get; set; }
    public required string Subject { get; set; }
    public required string Text { get; set; }
}

/// <summary>Somebody whose requests are approved as they come.</summary>
public sealed class TrustedPayeeRecord
{
    public required string Payee { get; set; }
    public required string By { get; set; }
    public DateTimeOffset At { get; set; }
}

/// <summary>Somebody who joined and has not their record yet: what they earn is held longer.</summary>
public sealed class NewPayeeRecord
{
    public required string Payee { get; set; }
    public required string AgreementId { get; set; }
    public DateOnly Since { get; set; }
    /// <summary>Who said that they are paid as others; null while they are new.</summary>
    public string? EndedBy { get; set; }
}

/// <summary>That a payee takes part with an offer path: with its products, and with those added to it later.</summary>
public sealed class PathApprovalRecord
{
    public required string Payee { get; set; }
    public required string AgreementId { get; set; }
    public required string PathId { get; set; }
}
