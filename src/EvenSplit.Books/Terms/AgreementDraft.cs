using System.ComponentModel.DataAnnotations;
using System.Globalization;
using EvenSplit.Core;

namespace EvenSplit.Books.Terms;

/// <summary>Who gets what a case's rate describes. Nobody is an explicit nothing: what it covers is excluded.</summary>
public enum RateGoesTo { Payee, House, Nobody }

/// <summary>One case of a term as typed: under which conditions, and how much. Empty cells mean there is no such condition or part.</summary>
public sealed record CaseDraft
{
    /// <summary>As typed, in major units of the agreement's currency, like all amounts here.</summary>
    public string OrderValue { get; init; } = "";
    public int? PaymentFrom { get; init; }
    public int? PaymentTo { get; init; }
    public CustomerKind? Customer { get; init; }
    public string Sales { get; init; } = "";
    public long? Orders { get; init; }
    public string Earned { get; init; } = "";
    public ProgressWindow Window { get; init; }
    /// <summary>As typed, in percent: 12.5.</summary>
    public string Percent { get; init; } = "";
    public string PerUnit { get; init; } = "";
    public string PerOrder { get; init; } = "";
    public RateGoesTo GoesTo { get; init; }

    /// <summary>Whether it asks for anything before it applies.</summary>
    public bool HasConditions => OrderValue.Length > 0 || PaymentFrom is not null || PaymentTo is not null || Customer is not null || AsksProgress;

    public bool AsksProgress => Sales.Length > 0 || Orders is not null || Earned.Length > 0;

    /// <summary>Whether nothing was typed, so that the row counts as not there.</summary>
    public bool IsBlank => !HasConditions && !HasAmount && GoesTo != RateGoesTo.Nobody;

    public bool HasAmount => Percent.Length > 0 || PerUnit.Length > 0 || PerOrder.Length > 0;

    internal static CaseDraft Of(TermCase termCase, Currency currency)
    {
        var (when, rate) = (termCase.When, termCase.Rate);
        return new CaseDraft
        {
            OrderValue = Amount(when.OrderValueAtLeast, currency),
            PaymentFrom = when.PaymentFrom,
            PaymentTo = when.PaymentTo,
            Customer = when.Customer,
            Sales = Amount(when.SalesAtLeast, currency),
            Orders = when.OrdersAtLeast,
            Earned = Amount(when.EarnedAtLeast, currency),
            Window = when.Window,
            Percent = Typed(rate.Percent),
            PerUnit = Amount(rate.PerUnit, currency),
            PerOrder = Amount(rate.PerOrder, currency),
            GoesTo = rate.IsEmpty ? RateGoesTo.Nobody : rate.Of == RateOf.House ? RateGoesTo.House : RateGoesTo.Payee,
        };
    }

    internal static string Typed(Rate? rate) => rate is { } percent ? (percent.Value * 100m).ToString("0.####", CultureInfo.InvariantCulture) : "";

    private static string Amount(long? minor, Currency currency) => minor is { } amount ? new Money(amount, currency).ToMajorText() : "";
}

/// <summary>One term as typed: for what, and its cases, of which the first that holds gives the rate.</summary>
public sealed record TermDraft
{
    public ScopeKind ScopeKind { get; init; }
    public string ScopeId { get; init; } = "";
    public List<CaseDraft> Cases { get; init; } = [];

    public bool IsBlank => ScopeId.Trim().Length == 0 && Cases.TrueForAll(c => c.IsBlank);

    internal static TermDraft Of(Term term, Currency currency) => new()
    {
        ScopeKind = term.Scope.Kind,
        ScopeId = term.Scope.Id ?? "",
        Cases = term.Cases.Select(c => CaseDraft.Of(c, currency)).ToList(),
    };
}

/// <summary>An agreement's version as typed in the form: all that a version can say.</summary>
public sealed record AgreementDraft
{
    public string Name { get; init; } = "";
    public Basis Basis { get; init; }
    public string Currency { get; init; } = "";
    public DateOnly? From { get; init; }
    /// <summary>How many days a click counts; null is without limit.</summary>
    public int? WindowDays { get; init; }
    public int? HoldDays { get; init; }
    public SignOff SignOff { get; init; }
    public DiscountBearer DiscountBorneBy { get; init; }
    public Treatment Tax { get; init; }
    public Treatment Shipping { get; init; }
    public Treatment Rebate { get; init; }
    public bool DeductProcessingFee { get; init; }
    public bool DeductChannelFee { get; init; }
    public bool DeductCost { get; init; }
    public bool AfterReferral { get; init; }
    public LostFeeBearer LostFees { get; init; }
    /// <summary>What whoever recruited the payee earns, in percent as typed; empty is nothing.</summary>
    public string RecruiterPercent { get; init; } = "";
    public RecruiterOf RecruiterOf { get; init; }
    public List<TermDraft> Terms { get; init; } = [];
    /// <summary>What was agreed in words, as Markdown.</summary>
    [StringLength(100_000)]
    public string Text { get; init; } = "";

    /// <summary>A draft that says what a published version says, to write the next one from.</summary>
    public static AgreementDraft Of(string name, Agreement agreement, AgreementVersion version) => new()
    {
        Name = name,
        Basis = agreement.Basis,
        Currency = agreement.Currency.Code,
        From = version.From,
        WindowDays = version.WindowDays,
        HoldDays = version.HoldDays,
        SignOff = version.SignOff,
        DiscountBorneBy = version.DiscountBorneBy,
        Tax = version.Tax,
        Shipping = version.Shipping,
        Rebate = version.Rebate,
        DeductProcessingFee = version.DeductProcessingFee,
        DeductChannelFee = version.DeductChannelFee,
        DeductCost = version.DeductCost,
        AfterReferral = version.AfterReferral,
        LostFees = version.LostFees,
        RecruiterPercent = CaseDraft.Typed(version.RecruiterPercent),
        RecruiterOf = version.RecruiterOf,
        Terms = version.Terms.Select(t => TermDraft.Of(t, agreement.Currency)).ToList(),
    };
}
