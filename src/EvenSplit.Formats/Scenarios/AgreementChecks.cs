using EvenSplit.Core;

namespace EvenSplit.Formats.Scenarios;

/// <summary>Faults of agreements, their versions, terms and cases.</summary>
internal static class AgreementChecks
{
    public static void Check(IReadOnlyList<AgreementDocument> agreements, DeclaredIds ids, FaultList faults)
    {
        var seen = new HashSet<string>();
        for (var i = 0; i < agreements.Count; i++)
        {
            var (place, agreement) = ($"$.agreements[{i}]", agreements[i]);
            if (!seen.Add(agreement.Id)) faults.TwiceAt(place + ".id", "agreement", agreement.Id);
            faults.NotEmptyAt(place + ".id", agreement.Id);
            faults.WordAt<Basis>(place + ".basis", agreement.Basis);
            faults.CurrencyAt(place + ".currency", agreement.Currency);
            if (agreement.Versions.Count == 0) faults.Add(place + ".versions", "an agreement has at least one version.");
            var froms = new HashSet<DateOnly>();
            for (var v = 0; v < agreement.Versions.Count; v++)
            {
                var at = $"{place}.versions[{v}]";
                if (!froms.Add(agreement.Versions[v].From)) faults.Add(at + ".from", $"there is a version from {agreement.Versions[v].From:yyyy-MM-dd} already.");
                Version(agreement.Versions[v], at, ids, faults);
            }
        }
    }

    public static void Term(ScopeDocument scope, IReadOnlyList<CaseDocument> cases, string place, DeclaredIds ids, FaultList faults)
    {
        Scope(scope, place + ".scope", ids, faults);
        if (cases.Count == 0) faults.Add(place + ".cases", "a term has at least one case.");
        for (var c = 0; c < cases.Count; c++) Case(cases[c], $"{place}.cases[{c}]", faults);
    }

    private static void Version(VersionDocument version, string place, DeclaredIds ids, FaultList faults)
    {
        faults.CountAt(place + ".windowDays", version.WindowDays);
        faults.CountAt(place + ".holdDays", version.HoldDays);
        faults.WordAt<SignOff>(place + ".signOff", version.SignOff);
        faults.WordAt<DiscountBearer>(place + ".discountBorneBy", version.DiscountBorneBy);
        faults.WordAt<Treatment>(place + ".tax", version.Tax);
        faults.WordAt<Treatment>(place + ".shipping", version.Shipping);
        faults.WordAt<Treatment>(place + ".rebate", version.Rebate);
        faults.WordAt<LostFeeBearer>(place + ".lostFees", version.LostFees);
        faults.ShareAt(place + ".recruiterPercent", version.RecruiterPercent);
        faults.WordAt<RecruiterOf>(place + ".recruiterOf", version.RecruiterOf);
        for (var t = 0; t < version.Terms.Count; t++) Term(version.Terms[t].Scope, version.Terms[t].Cases, $"{place}.terms[{t}]", ids, faults);
    }

    private static void Scope(ScopeDocument scope, string place, DeclaredIds ids, FaultList faults)
    {
        var named = new object?[] { scope.All, scope.Collection, scope.Product, scope.Variant }.Count(n => n is not null);
        if (named != 1) faults.Add(place, "a scope names one of all, collection, product and variant.");
        if (scope.All == false) faults.Add(place + ".all", "all is true or left out.");
        faults.NotEmptyAt(place + ".collection", scope.Collection);
        if (scope.Product is { } product && !ids.Products.Contains(product)) faults.UnknownAt(place + ".product", "product", product);
        if (scope.Variant is { } variant && !ids.ProductByVariant.ContainsKey(variant)) faults.UnknownAt(place + ".variant", "variant", variant);
    }

    private static void Case(CaseDocument document, string place, FaultList faults)
    {
        if (document.When is { } when)
        {
            faults.MoneyAt(place + ".when.orderValueAtLeast", when.OrderValueAtLeast);
            faults.CountAt(place + ".when.paymentFrom", when.PaymentFrom);
            faults.CountAt(place + ".when.paymentTo", when.PaymentTo);
            faults.WordAt<CustomerKind>(place + ".when.customer", when.Customer);
            faults.MoneyAt(place + ".when.salesAtLeast", when.SalesAtLeast);
            faults.CountAt(place + ".when.ordersAtLeast", when.OrdersAtLeast);
            faults.MoneyAt(place + ".when.earnedAtLeast", when.EarnedAtLeast);
            faults.WordAt<ProgressWindow>(place + ".when.window", when.Window);
        }
        faults.ShareAt(place + ".rate.percent", document.Rate.Percent);
        faults.MoneyAt(place + ".rate.perUnit", document.Rate.PerUnit);
        faults.MoneyAt(place + ".rate.perOrder", document.Rate.PerOrder);
        faults.WordAt<RateOf>(place + ".rate.of", document.Rate.Of);
    }
}
