namespace EvenSplit.Core;

/// <summary>Which lines an agreement looks at (contract, section 4).</summary>
public enum Basis { Referral, Contribution, Supply }

/// <summary>What happens to tax, shipping or a rebate: the house keeps it, it counts in the share base, or it is passed on whole.</summary>
public enum Treatment { Keep, Count, Pass }

public enum DiscountBearer { Shared, House }

public enum LostFeeBearer { House, Shared }

public enum SignOff { Auto, Manual }

public enum RecruiterOf { Base, Share }

/// <summary>What an agreement says from a date on. Published versions are never changed, only followed by another.</summary>
public sealed record AgreementVersion
{
    /// <summary>In force from the start of this date, in the book's zone.</summary>
    public required DateOnly From { get; init; }
    /// <summary>How long a click counts, in days of 24 hours; null is no limit.</summary>
    public int? WindowDays { get; init; }
    public int HoldDays { get; init; }
    public SignOff SignOff { get; init; }
    public DiscountBearer DiscountBorneBy { get; init; }
    public Treatment Tax { get; init; }
    public Treatment Shipping { get; init; }
    public Treatment Rebate { get; init; }
    public bool DeductProcessingFee { get; init; }
    public bool DeductChannelFee { get; init; }
    public bool DeductCost { get; init; }
    /// <summary>Rank 2 only: what rank 1 earned on the line comes off the base first.</summary>
    public bool AfterReferral { get; init; }
    public LostFeeBearer LostFees { get; init; }
    public Rate? RecruiterPercent { get; init; }
    public RecruiterOf RecruiterOf { get; init; }
    public required IReadOnlyList<Term> Terms { get; init; }
}

/// <summary>What a payee earns, over time. Flat amounts in its terms are minor units of <see cref="Currency"/>.</summary>
public sealed class Agreement
{
    private readonly AgreementVersion[] _versions;

    public Agreement(AgreementId id, Basis basis, Currency currency, IEnumerable<AgreementVersion> versions)
    {
        Id = id;
        Basis = basis;
        Currency = currency;
        _versions = versions.OrderBy(v => v.From).ToArray();
    }

    public AgreementId Id { get; }
    public Basis Basis { get; }
    public Currency Currency { get; }
    public IReadOnlyList<AgreementVersion> Versions => _versions;

    /// <summary>1 for referral; 2 for contribution and supply, whose shares are worked out after it (contract, section 6).</summary>
    public int Rank => Basis == Basis.Referral ? 1 : 2;

    /// <summary>The version with the latest From on or before the date; null before the first.</summary>
    public AgreementVersion? VersionOn(DateOnly date)
    {
        for (var i = _versions.Length - 1; i >= 0; i--)
        {
            if (_versions[i].From <= date) return _versions[i];
        }
        return null;
    }
}
