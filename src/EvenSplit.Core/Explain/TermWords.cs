namespace EvenSplit.Core;

/// <summary>Agreements, terms and rates as sentences a person can read.</summary>
public static class TermWords
{
    public static string Scope(Scope scope, Naming naming) => scope.Kind switch
    {
        ScopeKind.All => "everything",
        ScopeKind.Collection => $"the collection {scope.Id}",
        ScopeKind.Product => naming.Product(new ProductId(scope.Id!)),
        _ => $"the variant {scope.Id}",
    };

    /// <summary>"12.5 % of the share base and €0.50 a unit".</summary>
    public static string Rate(ShareRate rate, Currency currency) => Rate(rate, currency, " of the share base");

    private static string Rate(ShareRate rate, Currency currency, string ofTheBase)
    {
        if (rate.IsEmpty) return "nothing";
        var parts = new List<string>();
        if (rate.Percent is { } percent) parts.Add(percent.ToPercentText() + ofTheBase);
        if (rate.PerUnit is { } perUnit) parts.Add($"{new Money(perUnit, currency).InWords()} a unit");
        if (rate.PerOrder is { } perOrder) parts.Add($"{new Money(perOrder, currency).InWords()} an order");
        var given = parts.Count == 1 ? parts[0] : string.Join(", ", parts[..^1]) + " and " + parts[^1];
        return rate.Of == RateOf.House ? $"what is left after the house keeps {given}" : given;
    }

    /// <summary>What the conditions of a case say; empty where it has none.</summary>
    public static string Conditions(CaseConditions when, Currency currency)
    {
        var parts = new List<string>();
        if (when.OrderValueAtLeast is { } value) parts.Add($"orders from {Threshold(value, currency)}");
        if (Payments(when) is { } payments) parts.Add(payments);
        if (when.Customer is { } customer) parts.Add(customer == CustomerKind.New ? "new customers" : "returning customers");
        var window = Window(when.Window);
        if (when.SalesAtLeast is { } sales) parts.Add($"after sales of {Threshold(sales, currency)} {window}");
        if (when.OrdersAtLeast is { } orders) parts.Add($"after {MoneyWords.Count(orders, "order")} {window}");
        if (when.EarnedAtLeast is { } earned) parts.Add($"after earnings of {Threshold(earned, currency)} {window}");
        return string.Join(", ", parts);
    }

    /// <summary>
    /// A term as one sentence: "Of everything: orders from €250, 11 % of the share base; orders from €80, 9 %; otherwise 7 %." What the cases
    /// leave out is told too, since it earns nothing.
    /// </summary>
    public static string Term(Term term, Currency currency, Naming naming)
    {
        var cases = new List<string>();
        foreach (var termCase in term.Cases)
        {
            var rate = Rate(termCase.Rate, currency, cases.Count == 0 ? " of the share base" : "");
            var conditions = Conditions(termCase.When, currency);
            cases.Add(conditions.Length > 0 ? $"{conditions}, {rate}" : cases.Count == 0 ? rate : $"otherwise {rate}");
        }
        if (term.Cases.All(c => Conditions(c.When, currency).Length > 0)) cases.Add("otherwise nothing");
        return $"Of {Scope(term.Scope, naming)}: {string.Join("; ", cases)}.";
    }

    private static string? Payments(CaseConditions when) => (when.PaymentFrom, when.PaymentTo) switch
    {
        (null, null) => null,
        (0, 0) => "trials",
        (0 or null, { } to) => $"up to payment {to}",
        ({ } from, null) => $"payment {from} and later",
        var (from, to) when from == to => $"payment {from}",
        var (from, to) => $"payments {from} to {to}",
    };

    /// <summary>Round thresholds are told without decimals.</summary>
    public static string Threshold(long minor, Currency currency)
    {
        var words = new Money(minor, currency).InWords();
        var whole = words.Length - currency.Exponent - 1;
        return currency.Exponent > 0 && words[whole..].Trim('.', '0').Length == 0 ? words[..whole] : words;
    }

    /// <summary>What the version's switches say, one sentence each, the defaults included: what is silent is what surprises.</summary>
    public static IEnumerable<string> Switches(AgreementVersion version, Basis basis)
    {
        yield return version.DiscountBorneBy == DiscountBearer.House
            ? "The house bears discounts: the base is what the goods would have brought without them."
            : "Discounts are shared: the base is what the goods really brought.";
        yield return Treated("Tax", version.Tax);
        yield return Treated("Shipping", version.Shipping);
        if (version.Rebate != Treatment.Keep) yield return Treated("The channel's rebate", version.Rebate);
        var deducted = new List<string>();
        if (version.DeductProcessingFee) deducted.Add("the processing fee");
        if (version.DeductChannelFee) deducted.Add("the channel fee");
        if (version.DeductCost) deducted.Add("the cost of the goods");
        if (version.AfterReferral && basis != Basis.Referral) deducted.Add("what the affiliate earned");
        yield return deducted.Count == 0
            ? "Nothing is deducted from the base."
            : $"Deducted from the base: {string.Join(", ", deducted)}.";
        if (version.DeductProcessingFee || version.DeductChannelFee)
        {
            yield return version.LostFees == LostFeeBearer.House
                ? "Fees lost on a refund fall on the house."
                : "Fees lost on a refund are shared: a reversal can be more than was earned.";
        }
        if (version.RecruiterPercent is { } percent)
        {
            yield return $"Whoever recruited the payee earns {percent.ToPercentText()} of the {(version.RecruiterOf == RecruiterOf.Base ? "same base" : "payee's share")}.";
        }
        if (basis == Basis.Referral)
        {
            yield return version.WindowDays is { } window ? $"A click counts for {MoneyWords.Count(window, "day")}." : "A click counts without limit of time.";
        }
        if (version.SignOff == SignOff.Manual) yield return "Earnings wait until the order is signed off.";
        yield return version.HoldDays == 0 ? "Earnings clear on the day of payment." : $"Earnings are held for {MoneyWords.Count(version.HoldDays, "day")}.";
    }

    private static string Treated(string what, Treatment treatment) => treatment switch
    {
        Treatment.Count => $"{what} counts in the base.",
        Treatment.Pass => $"{what} is passed on whole, on top of the share.",
        _ => $"{what} stays with the house.",
    };

    /// <summary>"so far", "this month".</summary>
    public static string Window(ProgressWindow window) => window == ProgressWindow.Lifetime ? "so far" : $"this {window.ToString().ToLowerInvariant()}";
}
