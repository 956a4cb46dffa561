namespace EvenSplit.Core;

public enum PayeeRole { Affiliate, Collaborator, Vendor }

/// <summary>A payee's time on an agreement: from the start of From to the start of To (contract, sections 3 and 4).</summary>
public sealed record Membership(AgreementId Agreement, DateOnly From, DateOnly? To)
{
    private readonly HashSet<string>? _products;

    /// <summary>The products it is for; null for all, empty for none. Whether the agreement is in force does not look at it.</summary>
    public IReadOnlyList<ProductId>? Products
    {
        get;
        init => (field, _products) = (value, value?.Select(p => p.Value).ToHashSet());
    }

    public bool InForceOn(DateOnly date) => From <= date && (To is null || date < To);

    /// <summary>Whether the payee takes part in the agreement on lines of a product.</summary>
    public bool IsFor(ProductId product) => _products?.Contains(product.Value) != false;
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
    public IReadOnlyList<PayeeCode> Codes { get; init; } = [];
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

    public bool IsOn(AgreementId agreement, DateOnly date) => MembershipOn(agreement, date) is not null;

    /// <summary>The payee's time on an agreement that a date falls in; at most one does.</summary>
    public Membership? MembershipOn(AgreementId agreement, DateOnly date)
    {
        for (var i = 0; i < Memberships.Count; i++)
        {
            if (Memberships[i].Agreement == agreement && Memberships[i].InForceOn(date)) return Memberships[i];
        }
        return null;
    }
}
