using System.Globalization;

namespace EvenSplit.Core;

/// <summary>Price and payment plans, and what is off them, as sentences.</summary>
public static class PriceWords
{
    /// <summary>"€24.00, going up by €1.00 after every 50 sales to €30.00; 200 in all; from 1 Oct 2026 09:00."</summary>
    public static string Pricing(PricePlan? plan, Money price, BookTime time)
    {
        if (plan is null) return "Any price will do.";
        var parts = new List<string>
        {
            plan.Kind switch
            {
                PriceKind.Fixed => $"{price.InWords()} a unit",
                PriceKind.Minimum => $"{price.InWords()} a unit or more, as the buyer chooses",
                _ => $"{price.InWords()} a unit, going up by {new Money(plan.Steps!.Up, price.Currency).InWords()} after every {MoneyWords.Count(plan.Steps.Every, "sale")} to {new Money(plan.Steps.Ceiling, price.Currency).InWords()}",
            },
        };
        if (plan.AtMost is { } most) parts.Add($"{MoneyWords.Count(most)} in all");
        if (plan.NotBefore is { } launch) parts.Add("from " + Instant(launch, time));
        return string.Join("; ", parts) + ".";
    }

    /// <summary>"Every 12 months; before that a trial of 30 days for €1.00."</summary>
    public static string Payments(PaymentPlan? plan, Currency currency)
    {
        if (plan is null) return "Any number of payments will do.";
        var every = plan.EveryMonths == 1 ? "every month" : $"every {plan.EveryMonths} months";
        var text = plan.Kind switch
        {
            PaymentKind.Once => "Paid once",
            PaymentKind.Subscription => $"Paid {every}",
            _ => $"Paid in {plan.Instalments} instalments, {every}",
        };
        return plan.Trial is { } trial ? $"{text}; before that a trial of {MoneyWords.Count(trial.Days, "day")} for {new Money(trial.Price, currency).InWords()}." : text + ".";
    }

    /// <param name="currency">The order's.</param>
    public static string Finding(PriceFinding finding, Currency currency) => finding.Fault switch
    {
        PriceFault.Price => $"sold at {new Money(finding.Actual ?? 0, currency).InWords()} a unit where the plan says {new Money(finding.Expected ?? 0, currency).InWords()}",
        PriceFault.BeforeLaunch => "sold before its launch",
        PriceFault.SoldOut => $"{MoneyWords.Count(finding.Actual ?? 0)} sold where {MoneyWords.Count(finding.Expected ?? 0)} were left to sell",
        _ when finding.Actual == 0 => "a trial, which the product does not have",
        _ => $"payment {finding.Actual} where the plan has {MoneyWords.Count(finding.Expected ?? 0, "payment")}",
    };

    private static string Instant(DateTimeOffset instant, BookTime time) =>
        TimeZoneInfo.ConvertTime(instant, time.Zone).ToString("d MMM yyyy HH:mm", CultureInfo.InvariantCulture);
}
