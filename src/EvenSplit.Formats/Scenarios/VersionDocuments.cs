using System.Text.Json;
using EvenSplit.Core;

namespace EvenSplit.Formats.Scenarios;

/// <summary>Versions of agreements to and from the words of the scenario file; a book keeps them in the same words.</summary>
public static class VersionDocuments
{
    public static string Write(AgreementVersion version) => JsonSerializer.Serialize(ToDocument(version), ScenarioJson.Of<VersionDocument>());

    /// <exception cref="FormatException">A value is not what the contract allows.</exception>
    /// <exception cref="JsonException">Not the JSON of a version.</exception>
    public static AgreementVersion Read(string json) => ToVersion(JsonSerializer.Deserialize(json, ScenarioJson.Of<VersionDocument>())!);

    /// <summary>A personal term: its scope and cases.</summary>
    public static string Write(Term term) => JsonSerializer.Serialize(ToDocument(term), ScenarioJson.Of<TermDocument>());

    /// <exception cref="FormatException">A value is not what the contract allows.</exception>
    /// <exception cref="JsonException">Not the JSON of a term.</exception>
    public static Term ReadTerm(string json)
    {
        var document = JsonSerializer.Deserialize(json, ScenarioJson.Of<TermDocument>())!;
        return ToTerm(document.Scope, document.Cases);
    }

    internal static AgreementVersion ToVersion(VersionDocument document) => new()
    {
        From = document.From,
        WindowDays = document.WindowDays,
        HoldDays = document.HoldDays ?? 0,
        SignOff = Words.Read<SignOff>(document.SignOff),
        DiscountBorneBy = Words.Read<DiscountBearer>(document.DiscountBorneBy),
        Tax = Words.Read<Treatment>(document.Tax),
        Shipping = Words.Read<Treatment>(document.Shipping),
        Rebate = Words.Read<Treatment>(document.Rebate),
        DeductProcessingFee = document.DeductProcessingFee ?? false,
        DeductChannelFee = document.DeductChannelFee ?? false,
        DeductCost = document.DeductCost ?? false,
        AfterReferral = document.AfterReferral ?? false,
        LostFees = Words.Read<LostFeeBearer>(document.LostFees),
        RecruiterPercent = document.RecruiterPercent is { } percent ? Rate.Parse(percent) : null,
        RecruiterOf = Words.Read<RecruiterOf>(document.RecruiterOf),
        Terms = document.Terms.Select(t => ToTerm(t.Scope, t.Cases)).ToArray(),
    };

    internal static Term ToTerm(ScopeDocument scope, IReadOnlyList<CaseDocument> cases) =>
        new(ToScope(scope), cases.Select(ToCase).ToArray());

    private static Scope ToScope(ScopeDocument scope) => scope switch
    {
        { Variant: { } id } => Scope.Of(new VariantId(id)),
        { Product: { } id } => Scope.Of(new ProductId(id)),
        { Collection: { } id } => Scope.Of(new CollectionId(id)),
        { All: true } => Scope.All,
        _ => throw new FormatException("A scope names a variant, a product, a collection or all."),
    };

    private static TermCase ToCase(CaseDocument document) => new(
        document.When is not { } when ? CaseConditions.None : new CaseConditions
        {
            OrderValueAtLeast = when.OrderValueAtLeast,
            PaymentFrom = when.PaymentFrom,
            PaymentTo = when.PaymentTo,
            Customer = when.Customer is null ? null : Words.Read<CustomerKind>(when.Customer),
            SalesAtLeast = when.SalesAtLeast,
            OrdersAtLeast = when.OrdersAtLeast,
            EarnedAtLeast = when.EarnedAtLeast,
            Window = Words.Read<ProgressWindow>(when.Window),
        },
        new ShareRate(
            document.Rate.Percent is { } percent ? Rate.Parse(percent) : null,
            document.Rate.PerUnit,
            document.Rate.PerOrder,
            Words.Read<RateOf>(document.Rate.Of)));

    internal static VersionDocument ToDocument(AgreementVersion version) => new()
    {
        From = version.From,
        WindowDays = version.WindowDays,
        HoldDays = version.HoldDays,
        SignOff = Words.Write(version.SignOff),
        DiscountBorneBy = Words.Write(version.DiscountBorneBy),
        Tax = Words.Write(version.Tax),
        Shipping = Words.Write(version.Shipping),
        Rebate = Words.Write(version.Rebate),
        DeductProcessingFee = version.DeductProcessingFee,
        DeductChannelFee = version.DeductChannelFee,
        DeductCost = version.DeductCost,
        AfterReferral = version.AfterReferral,
        LostFees = Words.Write(version.LostFees),
        RecruiterPercent = version.RecruiterPercent?.ToString(),
        RecruiterOf = version.RecruiterPercent is null ? null : Words.Write(version.RecruiterOf),
        Terms = version.Terms.Select(ToDocument).ToArray(),
    };

    internal static TermDocument ToDocument(Term term) => new()
    {
        Scope = term.Scope.Kind switch
        {
            ScopeKind.Variant => new ScopeDocument { Variant = term.Scope.Id },
            ScopeKind.Product => new ScopeDocument { Product = term.Scope.Id },
            ScopeKind.Collection => new ScopeDocument { Collection = term.Scope.Id },
            _ => new ScopeDocument { All = true },
        },
        Cases = term.Cases.Select(ToDocument).ToArray(),
    };

    private static CaseDocument ToDocument(TermCase termCase)
    {
        var when = termCase.When;
        return new CaseDocument
        {
            When = when == CaseConditions.None ? null : new ConditionsDocument
            {
                OrderValueAtLeast = when.OrderValueAtLeast,
                PaymentFrom = when.PaymentFrom,
                PaymentTo = when.PaymentTo,
                Customer = when.Customer is { } customer ? Words.Write(customer) : null,
                SalesAtLeast = when.SalesAtLeast,
                OrdersAtLeast = when.OrdersAtLeast,
                EarnedAtLeast = when.EarnedAtLeast,
                Window = Words.Write(when.Window),
            },
            Rate = new ShareRateDocument
            {
                Percent = termCase.Rate.Percent?.ToString(),
                PerUnit = termCase.Rate.PerUnit,
                PerOrder = termCase.Rate.PerOrder,
                Of = Words.Write(termCase.Rate.Of),
            },
        };
    }
}
