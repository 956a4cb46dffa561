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
    public static string Rate(ShareRate rate, Currency currency)
    {
        if (rate.IsEmpty) return "nothing";
        var parts = new List<string>();
        if (rate.Percent is { } percent) parts.Add($"{percent.ToPercentText()} of the share base");
        if (rate.PerUnit is { } perUnit) parts.Add($"{new Money(perUnit, currency).InWords()} a unit");
        if (rate.PerOrder is { } perOrder) parts.Add($"{new Money(perOrder, currency).InWords()} an order");
        var given = parts.Count == 1 ? parts[0] : string.Join(", ", parts[..^1]) + " and " + parts[^1];
        return rate.Of == RateOf.House ? $"what is left after the house keeps {given}" : given;
    }

    /// <summary>What the conditions of a case say; empty where it has none.</summary>
    public static string Conditions(CaseConditions when, Currency currency)
    {
        var parts = new List<string>();
        if (when.OrderValueAtLeast is { } value) parts.Add($"orders from {new Money(value, currency).InWords()}");
        if (when.PaymentFrom is not null || when.PaymentTo is not null)
        {
            parts.Add(when.PaymentFrom == when.PaymentTo ? $"payment {when.PaymentFrom}" : $"payments {when.PaymentFrom ?? 0} to {when.PaymentTo?.ToString(System.Globalization.CultureInfo.InvariantCulture) ?? "any"}");
        }
        if (when.Customer is { } customer) parts.Add(customer == CustomerKind.New ? "new customers" : "returning customers");
        var window = Window(when.Window);
        if (when.SalesAtLeast is { } sales) parts.Add($"after sales of {new Money(sales, currency).InWords()} {window}");
        if (when.OrdersAtLeast is { } orders) parts.Add($"after {MoneyWords.Count(orders, "order")} {window}");
        if (when.EarnedAtLeast is { } earned) parts.Add($"after earnings of {new Money(earned, currency).InWords()} {window}");
        return string.Join(", ", parts);
    }

    /// <summary>One sentence per case of a term.</summary>
    public static IEnumerable<string> Term(Term term, Currency currency, Naming naming) => term.Cases.Select(c =>
    {
        var conditions = Conditions(c.When, currency);
        return $"Of {Scope(term.Scope, naming)}{(conditions.Length > 0 ? ", for " + conditions : "")}: {Rate(c.Rate, currency)}.";
    });

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
        yield return version.HoldDays == 0 ? "Earnings clear on the day of payment." : $"Earnings are held for {MoneyWords.Count(version.HoldDays, "day")}.";
    }

    private static string Treated(string what, Treatment treatment) => treatment switch
    {
        Treatment.Count => $"{what} counts in the base.",
        Treatment.Pass => $"{what} is passed on whole, on top of the share.",
        _ => $"{what} stays with the house.",
    };

    /// <summary>"so far", "this month".</summary>
    internal static string Window(ProgressWindow window) => window == ProgressWindow.Lifetime ? "so far" : $"this {window.ToString().ToLowerInvariant()}";
}
