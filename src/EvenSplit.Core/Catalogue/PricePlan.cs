namespace EvenSplit.Core;

/// <summary>How a product's price may be: just it, it or more as the buyer chooses, or rising from it.</summary>
public enum PriceKind { Fixed, Minimum, Stepping }

/// <summary>A price that goes up by <paramref name="Up"/> after every <paramref name="Every"/> sales, as far as <paramref name="Ceiling"/>.</summary>
/// <param name="Up">Minor units of the product's currency, as is the ceiling.</param>
public sealed record PriceSteps(long Up, long Every, long Ceiling)
{
    /// <param name="start">The price of the first sales, in minor units.</param>
    public long PriceAfter(long sold, long start) => (long)Int128.Min(Ceiling, start + (Int128)Up * (sold / Every));
}

/// <summary>What a unit of a product should be sold for, how many, and from when.</summary>
public sealed record PricePlan
{
    public required PriceKind Kind { get; init; }
    /// <summary>Set where the kind is stepping.</summary>
    public PriceSteps? Steps { get; init; }
    /// <summary>How many there are to sell in all; null is no limit.</summary>
    public long? AtMost { get; init; }
    /// <summary>The instant of its launch; null where it may be sold at any time.</summary>
    public DateTimeOffset? NotBefore { get; init; }
    /// <summary>Whether what is right for a sale depends on how many were sold before it.</summary>
    public bool CountsSales => Steps is not null || AtMost is not null;
}

public enum PaymentKind { Once, Subscription, Instalments }

/// <summary>A first stretch at a price of its own, in minor units of the product's currency.</summary>
public sealed record Trial(long Price, int Days);

/// <summary>In how many payments a product is paid for.</summary>
public sealed record PaymentPlan
{
    public required PaymentKind Kind { get; init; }
    /// <summary>Months from one payment to the next; 0 where it is paid once.</summary>
    public int EveryMonths { get; init; }
    /// <summary>How many instalments there are; 0 where there are none.</summary>
    public int Instalments { get; init; }
    /// <summary>The payment before the first, number 0; null where there is no trial.</summary>
    public Trial? Trial { get; init; }
}

/// <summary>How a product is to be sold: its price, and the plans that orders are held against.</summary>
/// <param name="Pricing">Null where any price will do.</param>
/// <param name="Payments">Null where any number of payments will do.</param>
public sealed record SellingPlan(Money Price, PricePlan? Pricing, PaymentPlan? Payments);
