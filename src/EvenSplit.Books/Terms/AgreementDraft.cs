using EvenSplit.Core;

namespace EvenSplit.Books.Terms;

/// <summary>One term as typed: for what, and how much of it. Empty cells mean the rate has no such part.</summary>
public sealed record TermDraft
{
    public ScopeKind ScopeKind { get; init; }
    public string ScopeId { get; init; } = "";
    /// <summary>As typed, in percent: 12.5.</summary>
    public string Percent { get; init; } = "";
    /// <summary>As typed, in major units of the agreement's currency.</summary>
    public string PerUnit { get; init; } = "";
    public string PerOrder { get; init; } = "";
    public RateOf Of { get; init; }

    public bool IsBlank => Percent.Length == 0 && PerUnit.Length == 0 && PerOrder.Length == 0 && ScopeId.Length == 0;
}

/// <summary>An agreement's version as typed in the form.</summary>
public sealed record AgreementDraft
{
    public string Name { get; init; } = "";
    public Basis Basis { get; init; }
    public string Currency { get; init; } = "";
    public DateOnly? From { get; init; }
    public int? HoldDays { get; init; }
    public DiscountBearer DiscountBorneBy { get; init; }
    public Treatment Tax { get; init; }
    public Treatment Shipping { get; init; }
    public Treatment Rebate { get; init; }
    public bool DeductProcessingFee { get; init; }
    public bool DeductChannelFee { get; init; }
    public bool DeductCost { get; init; }
    public bool AfterReferral { get; init; }
    public LostFeeBearer LostFees { get; init; }
    public List<TermDraft> Terms { get; init; } = [];

    /// <summary>A draft that says what a published version says, to write the next one from.</summary>
    public static AgreementDraft Of(string name, Agreement agreement, AgreementVersion version) => new()
    {
        Name = name,
        Basis = agreement.Basis,
        Currency = agreement.Currency.Code,
        HoldDays = version.HoldDays,
        DiscountBorneBy = version.DiscountBorneBy,
        Tax = version.Tax,
        Shipping = version.Shipping,
        Rebate = version.Rebate,
        DeductProcessingFee = version.DeductProcessingFee,
        DeductChannelFee = version.DeductChannelFee,
        DeductCost = version.DeductCost,
        AfterReferral = version.AfterReferral,
        LostFees = version.LostFees,
        Terms = version.Terms.SelectMany(t => t.Cases.Select(c => new TermDraft
        {
            ScopeKind = t.Scope.Kind,
            ScopeId = t.Scope.Id ?? "",
            Percent = c.Rate.Percent is { } percent ? (percent.Value * 100m).ToString("0.####", System.Globalization.CultureInfo.InvariantCulture) : "",
            PerUnit = c.Rate.PerUnit is { } perUnit ? new Money(perUnit, agreement.Currency).ToMajorText() : "",
            PerOrder = c.Rate.PerOrder is { } perOrder ? new Money(perOrder, agreement.Currency).ToMajorText() : "",
            Of = c.Rate.Of,
        })).ToList(),
    };
}
