namespace EvenSplit.Core;

public enum PayeeRole { Affiliate, Collaborator, Vendor }

/// <summary>A payee's time on an agreement: from the start of From to the start of To.</summary>
public sealed record Membership(AgreementId Agreement, DateOnly From, DateOnly? To)
{
    public bool InForceOn(DateOnly date) => From <= date && (To is null || date < To);
}

/// <summary>Money paid ahead, in minor units of the payee's payout currency, to be recouped out of earnings.</summary>
public sealed record Advance(string Id, DateOnly On, long Amount);

/// <summary>Anyone who may be owed money. Amounts here are minor units of <see cref="PayoutCurrency"/>.</summary>
public sealed record Payee
{
    public required PayeeId Id { get; init; }
    public required PayeeRole Role { get; init; }
    public required Currency PayoutCurrency { get; init; }
    public required DateOnly ActiveFrom { get; init; }
    public DateOnly? ActiveTo { get; init; }
    /// <summary>Coupon codes; compared without regard to ASCII case.</summary>
    public IReadOnlyList<string> Codes { get; init; } = [];
    public IReadOnlyList<string> CustomerKeys { get; init; } = [];
    public PayeeId? RecruitedBy { get; init; }
    public int? HoldDays { get; init; }
    public bool OnHold { get; init; }
    public long Minimum { get; init; }
    public Rate WithholdingPercent { get; init; }
    public long TransferFee { get; init; }
    public int FreeTransfers { get; init; }
    public IReadOnlyList<Advance> Advances { get; init; } = [];
    public Rate RecoupPercent { get; init; }
    public IReadOnlyList<Membership> Memberships { get; init; } = [];
    public IReadOnlyList<PersonalTerm> PersonalTerms { get; init; } = [];

    public bool IsActiveOn(DateOnly date) => ActiveFrom <= date && (ActiveTo is null || date < ActiveTo);

    public bool IsOn(AgreementId agreement, DateOnly date)
    {
        for (var i = 0; i < Memberships.Count; i++)
        {
            if (Memberships[i].Agreement == agreement && Memberships[i].InForceOn(date)) return true;
        }
        return false;
    }
}
