namespace EvenSplit.Core;

/// <summary>How it was decided who brought an order.</summary>
public enum AttributionVia { Manual, Code, Click, Renewal }

public enum CandidateVerdict { Won, NotNeeded, NoAgreement, Inactive, SelfReferral, OutsideWindow, AfterOrder, UnknownCode, CodeNotInForce }

/// <summary>One candidate looked at, in the order of looking.</summary>
/// <param name="Evidence">The code or the order renewed; null for a click or an assignment by hand.</param>
/// <param name="ClickedAt">When, for a click.</param>
public sealed record AttributionCandidate(PayeeId? Payee, AttributionVia Via, string? Evidence, DateTimeOffset? ClickedAt, CandidateVerdict Verdict);

/// <summary>Who brought an order (contract, section 3); nobody where <see cref="Payee"/> is null.</summary>
public sealed record AttributionDecision(PayeeId? Payee, AttributionVia? Via, IReadOnlyList<AttributionCandidate> Candidates)
{
    public static AttributionDecision Nobody { get; } = new(null, null, []);
}
