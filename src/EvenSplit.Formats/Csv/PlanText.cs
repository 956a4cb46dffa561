using System.Globalization;
using System.Text.RegularExpressions;
using EvenSplit.Core;

namespace EvenSplit.Formats.Csv;

/// <summary>
/// Price and payment plans as a line of text, in products.csv and in the book: <c>fixed</c>, <c>minimum; at most 200</c>,
/// <c>up 1.00 every 50 to 30.00; not before 2026-10-01T09:00+01:00</c>; <c>once</c>, <c>every 12 months; trial 1.00 for 30 days</c>,
/// <c>3 payments every 1 months</c>. Amounts are in major units of the product's currency.
/// </summary>
public static partial class PlanText
{
    public static string Write(PricePlan? plan, Currency currency)
    {
        if (plan is null) return "";
        var parts = new List<string> { plan.Steps is { } steps ? $"up {Major(steps.Up, currency)} every {steps.Every} to {Major(steps.Ceiling, currency)}" : plan.Kind == PriceKind.Minimum ? "minimum" : "fixed" };
        if (plan.AtMost is { } most) parts.Add($"at most {most}");
        if (plan.NotBefore is { } launch) parts.Add("not before " + launch.ToString("yyyy-MM-ddTHH:mmzzz", CultureInfo.InvariantCulture));
        return string.Join("; ", parts);
    }

    public static string Write(PaymentPlan? plan, Currency currency)
    {
        if (plan is null) return "";
        var text = plan.Kind switch
        {
            PaymentKind.Once => "once",
            PaymentKind.Subscription => $"every {plan.EveryMonths} months",
            _ => $"{plan.Instalments} payments every {plan.EveryMonths} months",
        };
        return plan.Trial is { } trial ? $"{text}; trial {Major(trial.Price, currency)} for {trial.Days} days" : text;
    }

    /// <returns>False where the text is no price plan; an empty one is none, which is well.</returns>
    public static bool TryReadPricing(string text, Currency currency, out PricePlan? plan)
    {
        plan = null;
        if (text.Trim().Length == 0) return true;
        var parts = text.Split(';', StringSplitOptions.TrimEntries);
        if (parts[0] is "fixed" or "minimum") plan = new PricePlan { Kind = parts[0] == "fixed" ? PriceKind.Fixed : PriceKind.Minimum };
        else if (Steps().Match(parts[0]) is { Success: true } match && Amount(match, "up", currency) is { } up and > 0 && Whole(match, "every") is { } every and > 0 && Amount(match, "to", currency) is { } ceiling)
        {
            plan = new PricePlan { Kind = PriceKind.Stepping, Steps = new PriceSteps(up, every, ceiling) };
        }
        else return false;
        foreach (var part in parts[1..])
        {
            if (Most().Match(part) is { Success: true } most && Whole(most, "most") is { } count) plan = plan with { AtMost = count };
            else if (Launch().Match(part) is { Success: true } launch
                && DateTimeOffset.TryParseExact(launch.Groups["at"].Value, "yyyy-MM-ddTHH:mmzzz", CultureInfo.InvariantCulture, DateTimeStyles.None, out var at)) plan = plan with { NotBefore = at };
            else return false;
        }
        return true;
    }

    /// <returns>False where the text is no payment plan; an empty one is none, which is well.</returns>
    public static bool TryReadPayments(string text, Currency currency, out PaymentPlan? plan)
    {
        plan = null;
        if (text.Trim().Length == 0) return true;
        var parts = text.Split(';', StringSplitOptions.TrimEntries);
        if (parts[0] == "once") plan = new PaymentPlan { Kind = PaymentKind.Once };
        else if (Payments().Match(parts[0]) is { Success: true } match && Whole(match, "months") is { } months and > 0 and <= 120)
        {
            var count = match.Groups["count"].Success ? Whole(match, "count") : 0;
            if (count is null or 1 or > 120) return false;
            plan = new PaymentPlan { Kind = count == 0 ? PaymentKind.Subscription : PaymentKind.Instalments, EveryMonths = (int)months, Instalments = (int)count };
        }
        else return false;
        if (parts.Length == 1) return true;
        if (parts.Length != 2 || Trials().Match(parts[1]) is not { Success: true } trial || Amount(trial, "price", currency) is not { } price || Whole(trial, "days") is not ({ } days and > 0 and <= 3650)) return false;
        plan = plan with { Trial = new Trial(price, (int)days) };
        return true;
    }

    private static string Major(long minor, Currency currency) => new Money(minor, currency).ToMajorText();

    private static long? Amount(Match match, string group, Currency currency) =>
        Money.TryParseMajor(match.Groups[group].Value, currency, out var money, out _) && money.Minor >= 0 ? money.Minor : null;

    private static long? Whole(Match match, string group) => long.TryParse(match.Groups[group].Value, NumberStyles.None, CultureInfo.InvariantCulture, out var number) && number <= Money.MaxMinor ? number : null;

    [GeneratedRegex(@"^up (?<up>[0-9.]{1,20}) every (?<every>[0-9]{1,12}) to (?<to>[0-9.]{1,20})$")]
    private static partial Regex Steps();

    [GeneratedRegex(@"^at most (?<most>[0-9]{1,12})$")]
    private static partial Regex Most();

    [GeneratedRegex(@"^not before (?<at>\S{1,40})$")]
    private static partial Regex Launch();

    [GeneratedRegex(@"^((?<count>[0-9]{1,4}) payments )?every (?<months>[0-9]{1,4}) months$")]
    private static partial Regex Payments();

    [GeneratedRegex(@"^trial (?<price>[0-9.]{1,20}) for (?<days>[0-9]{1,5}) days$")]
    private static partial Regex Trials();
}
