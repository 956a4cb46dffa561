namespace EvenSplit.Core;

public enum ScopeKind { All, Collection, Product, Variant }

/// <summary>What a term covers. <see cref="ScopeKind"/> runs from the widest to the narrowest.</summary>
public sealed record Scope(ScopeKind Kind, string? Id)
{
    public static Scope All { get; } = new(ScopeKind.All, null);
    public static Scope Of(CollectionId id) => new(ScopeKind.Collection, id.Value);
    public static Scope Of(ProductId id) => new(ScopeKind.Product, id.Value);
    public static Scope Of(VariantId id) => new(ScopeKind.Variant, id.Value);

    public bool Covers(Product product, VariantId? variant)
    {
        switch (Kind)
        {
            case ScopeKind.All: return true;
            case ScopeKind.Product: return product.Id.Value == Id;
            case ScopeKind.Variant: return variant is { } v && v.Value == Id;
            default:
                for (var i = 0; i < product.Collections.Count; i++)
                {
                    if (product.Collections[i].Value == Id) return true;
                }
                return false;
        }
    }

    /// <summary>Whether some variant of the product could be covered.</summary>
    public bool MayCover(Product product) => Kind == ScopeKind.Variant
        ? product.Variants.Any(v => v.Value == Id)
        : Covers(product, null);
}

/// <summary>Who gets the amount a rate describes: the payee, or the house (and the payee the rest).</summary>
public enum RateOf { Payee, House }

/// <summary>
/// What a case gives: any of a percent of the share base, an amount per unit and an amount per order (minor units of the
/// agreement's currency). With none of the three it is an explicit nothing.
/// </summary>
public sealed record ShareRate(Rate? Percent, long? PerUnit = null, long? PerOrder = null, RateOf Of = RateOf.Payee)
{
    public bool IsEmpty => Percent is null && !HasFlatAmount;

    public bool HasFlatAmount => PerUnit is not null || PerOrder is not null;
}

public enum CustomerKind { New, Returning }

/// <summary>The stretch of time over which progress is counted, by the date of paidAt in the book's zone.</summary>
public enum ProgressWindow { Lifetime, Month, Quarter, Year }

/// <summary>Conditions of a case, all optional; amounts in minor units of the agreement's currency (contract, section 4).</summary>
public sealed record CaseConditions
{
    public static CaseConditions None { get; } = new();

    public long? OrderValueAtLeast { get; init; }
    public int? PaymentFrom { get; init; }
    public int? PaymentTo { get; init; }
    public CustomerKind? Customer { get; init; }
    public long? SalesAtLeast { get; init; }
    public long? OrdersAtLeast { get; init; }
    public long? EarnedAtLeast { get; init; }
    public ProgressWindow Window { get; init; }

    /// <summary>Whether what a payee has reached is enough for the conditions that ask for it.</summary>
    public bool HoldFor(ProgressFigures reached) =>
        !(reached.Sales < SalesAtLeast) && !(reached.Orders < OrdersAtLeast) && !(reached.Earned < EarnedAtLeast);

    public bool AskProgress => SalesAtLeast is not null || OrdersAtLeast is not null || EarnedAtLeast is not null;
}

public sealed record TermCase(CaseConditions When, ShareRate Rate);

/// <summary>For what, and under which conditions, something is earned: the first case whose conditions all hold gives the rate.</summary>
public sealed record Term(Scope Scope, IReadOnlyList<TermCase> Cases)
{
    /// <summary>Whether some case depends on how far its payee has come.</summary>
    public bool AsksProgress
    {
        get
        {
            for (var i = 0; i < Cases.Count; i++)
            {
                if (Cases[i].When.AskProgress) return true;
            }
            return false;
        }
    }
}

/// <summary>A term for one payee that comes before the agreement's own, optionally between dates (in force from the start of From to the start of To).</summary>
public sealed record PersonalTerm(AgreementId Agreement, DateOnly? From, DateOnly? To, Term Term)
{
    public bool InForceOn(DateOnly date) => (From is null || From <= date) && (To is null || date < To);
}
