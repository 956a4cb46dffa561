namespace EvenSplit.Core;

/// <summary>Says what is unusual about a version: allowed, and mostly a slip. Nothing here changes a figure.</summary>
public static class TermReview
{
    /// <param name="products">The catalogue the terms are for.</param>
    public static IEnumerable<string> Unusual(AgreementVersion version, Basis basis, Currency currency, IReadOnlyCollection<Product> products, Naming naming)
    {
        foreach (var words in version.Terms.SelectMany(t => OfCases(t, currency, naming))) yield return words;
        foreach (var words in OfScopes(version.Terms, products, naming)) yield return words;
        if (basis == Basis.Referral && version.WindowDays is { } window and <= 1)
        {
            yield return $"A click counts for {(window == 0 ? "no time at all" : "one day")} only: most buyers come back later than that.";
        }
        var covered = products.Where(p => version.Terms.Any(t => t.Scope.MayCover(p))).ToArray();
        var longest = covered.Select(p => p.ReturnDays).DefaultIfEmpty().Max();
        if (version.HoldDays < longest)
        {
            yield return $"The hold of {MoneyWords.Count(version.HoldDays, "day")} is shorter than the longest return period, {MoneyWords.Count(longest, "day")}: what is earned on such a product clears only when it can no longer be returned.";
        }
        foreach (var given in version.Terms.SelectMany(t => t.Cases).Select(c => c.Rate).Where(r => r is { Of: RateOf.Payee, Percent.Value: > 0.5m }))
        {
            yield return $"{given.Percent!.Value.ToPercentText()} is more than half of the base.";
        }
    }

    /// <summary>Cases that are never reached, and what no case reaches.</summary>
    private static IEnumerable<string> OfCases(Term term, Currency currency, Naming naming)
    {
        var scope = TermWords.Scope(term.Scope, naming);
        for (var later = 1; later < term.Cases.Count; later++)
        {
            for (var earlier = 0; earlier < later; earlier++)
            {
                if (!HoldsWhenever(term.Cases[earlier].When, term.Cases[later].When)) continue;
                yield return $"Of {scope}: case {later + 1} ({Told(term.Cases[later], currency)}) is never reached, since case {earlier + 1} ({Told(term.Cases[earlier], currency)}) comes before it and holds whenever it would.";
                break;
            }
        }
        foreach (var line in RateSteps.Of(term))
        {
            var whom = line.For.Length > 0 ? $" ({line.For})" : "";
            for (var i = 0; i < line.Steps.Count; i++)
            {
                var (from, holds) = line.Steps[i];
                if (holds is null && i + 1 < line.Steps.Count)
                {
                    yield return $"Of {scope}{whom}: a gap. With {Reached(line.Axis, from, line.Steps[i + 1].From, currency)} nothing is earned.";
                }
                if (i > 0 && Falls(line.Steps[i - 1].Case, holds))
                {
                    yield return $"Of {scope}{whom}: the rate falls at {At(line.Axis, from, currency)}, from {Told(line.Steps[i - 1].Case!.Rate, currency)} to {Told(holds!.Rate, currency)}.";
                }
            }
        }
        foreach (var number in PaymentsLeftOut(term)) yield return $"Of {scope}: payment {number} is in no case, so that nothing is earned on it.";
    }

    private static IEnumerable<string> OfScopes(IReadOnlyList<Term> terms, IReadOnlyCollection<Product> products, Naming naming)
    {
        for (var i = 0; i < terms.Count; i++)
        {
            var scope = terms[i].Scope;
            if (terms.Take(i).Any(t => t.Scope == scope))
            {
                yield return $"There are two terms for {TermWords.Scope(scope, naming)}; only the first is ever used.";
            }
            if (scope.Kind == ScopeKind.Collection && !products.Any(scope.MayCover))
            {
                yield return $"No product is in the collection {scope.Id} yet.";
            }
        }
    }

    /// <summary>Whether every order for which the later conditions hold meets the earlier ones too.</summary>
    private static bool HoldsWhenever(CaseConditions earlier, CaseConditions later) =>
        AtMost(earlier.OrderValueAtLeast, later.OrderValueAtLeast)
        && AtMost(earlier.PaymentFrom, later.PaymentFrom ?? 0)
        && (earlier.PaymentTo is null || later.PaymentTo <= earlier.PaymentTo)
        && (earlier.Customer is null || earlier.Customer == later.Customer)
        && (!earlier.AskProgress || earlier.Window == later.Window)
        && AtMost(earlier.SalesAtLeast, later.SalesAtLeast)
        && AtMost(earlier.OrdersAtLeast, later.OrdersAtLeast)
        && AtMost(earlier.EarnedAtLeast, later.EarnedAtLeast);

    private static bool AtMost(long? earlier, long? later) => earlier is null or 0 || later >= earlier;

    private static bool Falls(TermCase? before, TermCase? after) =>
        before is { Rate: { Of: RateOf.Payee, HasFlatAmount: false, Percent: { } was } }
        && after is { Rate: { Of: RateOf.Payee, HasFlatAmount: false, Percent: { } now } }
        && now.Millionths < was.Millionths;

    /// <summary>Numbers between the first and the last payment any case names, where cases go by payments alone.</summary>
    private static IEnumerable<int> PaymentsLeftOut(Term term)
    {
        var ranges = term.Cases.Select(c => c.When).Where(w => w == new CaseConditions { PaymentFrom = w.PaymentFrom, PaymentTo = w.PaymentTo, Window = w.Window }).ToArray();
        if (ranges.Length != term.Cases.Count || ranges.All(r => r.PaymentFrom is null && r.PaymentTo is null)) yield break;
        var last = ranges.Max(r => r.PaymentTo ?? r.PaymentFrom ?? 1);
        for (var number = 1; number <= Math.Min(last, 60); number++)
        {
            if (!ranges.Any(r => !(r.PaymentFrom > number) && !(r.PaymentTo < number))) yield return number;
        }
    }

    private static string Told(TermCase termCase, Currency currency)
    {
        var conditions = TermWords.Conditions(termCase.When, currency);
        return conditions.Length > 0 ? conditions : "no conditions";
    }

    private static string Told(ShareRate rate, Currency currency) => TermWords.Rate(rate, currency);

    private static string Reached(StepAxis axis, long from, long to, Currency currency) => axis switch
    {
        StepAxis.OrderValue => from == 0 ? $"an order below {At(axis, to, currency)}" : $"an order from {At(axis, from, currency)} to below {At(axis, to, currency)}",
        _ => from == 0 ? $"less than {At(axis, to, currency)}" : $"{At(axis, from, currency)} but less than {At(axis, to, currency)}",
    };

    /// <summary>A point on an axis in words.</summary>
    public static string At(StepAxis axis, long value, Currency currency) => axis switch
    {
        StepAxis.OrderValue => TermWords.Threshold(value, currency),
        StepAxis.Sales => "sales of " + TermWords.Threshold(value, currency),
        StepAxis.Earned => "earnings of " + TermWords.Threshold(value, currency),
        _ => MoneyWords.Count(value, "order"),
    };
}
