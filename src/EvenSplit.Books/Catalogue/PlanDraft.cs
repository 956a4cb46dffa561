using System.Globalization;
using EvenSplit.Books.Forms;
using EvenSplit.Core;

namespace EvenSplit.Books.Catalogue;

/// <summary>The price and payment plans of a product as typed; amounts in major units of the book's currency.</summary>
public sealed record PlanDraft
{
    /// <summary>Null where any price will do.</summary>
    public PriceKind? Price { get; init; }
    public string StepUp { get; init; } = "";
    public long? StepEvery { get; init; }
    public string Ceiling { get; init; } = "";
    public long? AtMost { get; init; }
    /// <summary>The launch in the book's zone, to the minute.</summary>
    public DateTime? NotBefore { get; init; }
    /// <summary>Null where any number of payments will do.</summary>
    public PaymentKind? Payments { get; init; }
    public int? EveryMonths { get; init; }
    public int? Instalments { get; init; }
    public string TrialPrice { get; init; } = "";
    public int? TrialDays { get; init; }

    public static PlanDraft Of(SellingPlan plan, BookTime time)
    {
        string Major(long? minor) => minor is { } amount ? new Money(amount, plan.Price.Currency).ToMajorText() : "";
        return new PlanDraft
        {
            Price = plan.Pricing?.Kind,
            StepUp = Major(plan.Pricing?.Steps?.Up),
            StepEvery = plan.Pricing?.Steps?.Every,
            Ceiling = Major(plan.Pricing?.Steps?.Ceiling),
            AtMost = plan.Pricing?.AtMost,
            NotBefore = plan.Pricing?.NotBefore is { } launch ? TimeZoneInfo.ConvertTime(launch, time.Zone).DateTime : null,
            Payments = plan.Payments?.Kind,
            EveryMonths = plan.Payments is { EveryMonths: > 0 and var months } ? months : null,
            Instalments = plan.Payments is { Instalments: > 0 and var count } ? count : null,
            TrialPrice = Major(plan.Payments?.Trial?.Price),
            TrialDays = plan.Payments?.Trial?.Days,
        };
    }

    /// <summary>What was typed as plans; what cannot be read is refused at its field.</summary>
    internal SellingPlan Read(Money price, BookTime time, FieldReader fields)
    {
        if (Price is not null && price.Minor == 0 && Price != PriceKind.Minimum) fields.Refuse("Price", "Give the price that orders are held against.");
        return new SellingPlan(price, Pricing(price, time, fields), PaymentsOf(price.Currency, fields));
    }

    private PricePlan? Pricing(Money price, BookTime time, FieldReader fields)
    {
        if (Price is not { } kind)
        {
            if (AtMost is not null || NotBefore is not null) fields.Refuse("Plans.Price", "A number to sell or a launch goes with a price: choose fixed, minimum or rising.");
            return null;
        }
        if (AtMost is < 1) fields.Refuse("Plans.AtMost", "Give at least 1, or leave it empty for no limit.");
        PriceSteps? steps = null;
        if (kind == PriceKind.Stepping)
        {
            var up = fields.Amount("Plans.StepUp", StepUp, price.Currency) ?? 0;
            var ceiling = fields.Amount("Plans.Ceiling", Ceiling, price.Currency) ?? 0;
            if (up == 0) fields.Refuse("Plans.StepUp", "Say by how much the price goes up.");
            if (StepEvery is not > 0) fields.Refuse("Plans.StepEvery", "Say after how many sales it goes up.");
            if (ceiling <= price.Minor) fields.Refuse("Plans.Ceiling", "Give the highest price, above the one it begins with.");
            steps = new PriceSteps(up, Math.Max(1, StepEvery ?? 1), ceiling);
        }
        return new PricePlan { Kind = kind, Steps = steps, AtMost = AtMost, NotBefore = NotBefore is { } local ? Instant(local, time, fields) : null };
    }

    private static DateTimeOffset? Instant(DateTime local, BookTime time, FieldReader fields)
    {
        var instant = new DateTimeOffset(local, time.Zone.GetUtcOffset(local));
        // Not by asking the zone whether the time is invalid: it overlooks that where winter, not summer, is the exception.
        if (TimeZoneInfo.ConvertTime(instant, time.Zone).DateTime == local) return instant;
        fields.Refuse("Plans.NotBefore", $"The clocks of {time.Zone.Id} skip {local.ToString("HH:mm", CultureInfo.InvariantCulture)} on that day.");
        return null;
    }

    private PaymentPlan? PaymentsOf(Currency currency, FieldReader fields)
    {
        if (Payments is not { } kind) return null;
        if (kind != PaymentKind.Once && EveryMonths is not (> 0 and <= 120)) fields.Refuse("Plans.EveryMonths", "Say how many months lie between two payments, 1 to 120.");
        if (kind == PaymentKind.Instalments && Instalments is not (> 1 and <= 120)) fields.Refuse("Plans.Instalments", "Say how many instalments there are, 2 to 120.");
        var trialPrice = fields.Amount("Plans.TrialPrice", TrialPrice, currency);
        if (TrialDays is < 1 or > 3650) fields.Refuse("Plans.TrialDays", "Give 1 to 3650 days.");
        if (trialPrice is not null && TrialDays is null) fields.Refuse("Plans.TrialDays", "Say how long the trial lasts.");
        return new PaymentPlan
        {
            Kind = kind,
            EveryMonths = kind == PaymentKind.Once ? 0 : EveryMonths ?? 0,
            Instalments = kind == PaymentKind.Instalments ? Instalments ?? 0 : 0,
            Trial = TrialDays is { } days ? new Trial(trialPrice ?? 0, days) : null,
        };
    }
}
