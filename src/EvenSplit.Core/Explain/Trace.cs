using System.Globalization;

namespace EvenSplit.Core;

/// <summary>The explanation of one amount, as sentences in the order in which it came about.</summary>
public sealed record Trace(ShareKey Key, Money Amount, IReadOnlyList<string> Sentences);

/// <summary>One who was asked whether they brought an order, in words.</summary>
public sealed record CandidateWords(string Who, string By, string Verdict, bool Won);

/// <summary>Tells what the computation recorded. It adds nothing: every figure comes out of the ledger's own amounts.</summary>
public sealed class TraceTeller(Rulebook rules, Naming naming)
{
    /// <param name="amounts">Amounts of <paramref name="ledger"/>, worked out with traces.</param>
    public IReadOnlyList<Trace> Tell(OrderLedger ledger, IReadOnlyList<ShareAmount> amounts) =>
        amounts.Select(a => new Trace(a.Key, a.Amount, Sentences(ledger, a).ToArray())).ToArray();

    /// <summary>Why the order counts as brought by whom it does.</summary>
    public string Attribution(OrderLedger ledger)
    {
        var decision = ledger.Attribution;
        var passedOver = decision.Candidates.Where(c => c.Verdict is not (CandidateVerdict.Won or CandidateVerdict.NotNeeded)).Select(PassedOver).ToArray();
        var others = passedOver.Length == 0 ? "" : " Passed over: " + string.Join("; ", passedOver) + ".";
        if (decision.Payee is not { } payee) return "Nobody brought this order." + others;
        var winner = decision.Candidates.FirstOrDefault(c => c.Verdict == CandidateVerdict.Won);
        var how = decision.Via switch
        {
            AttributionVia.Manual => "assigned by hand",
            AttributionVia.Code => $"coupon code {winner?.Evidence} on the order",
            AttributionVia.Renewal => $"it renews order {winner?.Evidence}, which they brought",
            _ => $"a click on their link at {ClickedAt(winner!)}",
        };
        return $"Brought by {naming.Payee(payee)}: {how}." + others;
    }

    private string ClickedAt(AttributionCandidate click) =>
        TimeZoneInfo.ConvertTime(click.ClickedAt!.Value, rules.Policy.Time.Zone).ToString("HH:mm 'on' d MMM yyyy", CultureInfo.InvariantCulture);

    /// <summary>Everybody who was asked, in the order of asking, with what was found about each.</summary>
    public IReadOnlyList<CandidateWords> Candidates(OrderLedger ledger) =>
        [.. ledger.Attribution.Candidates.Select(c => new CandidateWords(
            c.Payee is { } payee ? naming.Payee(payee) : "nobody",
            c.Via switch
            {
                AttributionVia.Manual => "assignment by hand",
                AttributionVia.Code => $"coupon code {c.Evidence}",
                AttributionVia.Renewal => $"renewal of order {c.Evidence}",
                _ => $"click at {ClickedAt(c)}",
            },
            c.Verdict switch
            {
                CandidateVerdict.Won => "brought the order",
                CandidateVerdict.NotNeeded => "not asked any more",
                _ => Why(c.Verdict),
            },
            c.Verdict == CandidateVerdict.Won))];

    private string PassedOver(AttributionCandidate candidate) =>
        $"{(candidate.Payee is { } payee ? naming.Payee(payee) : $"code {candidate.Evidence}")} ({Why(candidate.Verdict)})";

    private static string Why(CandidateVerdict verdict) => verdict switch
    {
        CandidateVerdict.UnknownCode => "belongs to nobody",
        CandidateVerdict.CodeNotInForce => "was not in force when the order was placed",
        CandidateVerdict.NoAgreement => "no referral agreement in force when the order was placed",
        CandidateVerdict.Inactive => "not active when the order was placed",
        CandidateVerdict.SelfReferral => "is the buyer",
        CandidateVerdict.AfterOrder => "clicked after the order",
        _ => "clicked outside the window",
    };

    private IEnumerable<string> Sentences(OrderLedger ledger, ShareAmount amount)
    {
        var line = ledger.Figures.Lines[amount.Key.LineIndex];
        yield return Why(ledger, amount, line);
        yield return Governing(ledger, amount, line);
        foreach (var sentence in amount.Key.Part switch
        {
            EntryPart.Fixed => Flat(amount),
            EntryPart.Passed => PassedOn(amount, ledger.Order.Currency),
            _ => Percent(ledger, amount),
        })
        {
            yield return sentence;
        }
        yield return Clearing(ledger, amount, line);
        foreach (var sentence in RefundsSince(ledger, amount)) yield return sentence;
    }

    private static IEnumerable<string> RefundsSince(OrderLedger ledger, ShareAmount amount)
    {
        var left = amount.Amount;
        foreach (var reversal in ledger.Reversals)
        {
            var key = amount.Key;
            if (reversal.Line != ledger.Order.Lines[key.LineIndex].Id || reversal.Payee != key.Payee || reversal.Agreement != key.Agreement || reversal.Part != key.Part) continue;
            left += reversal.Amount;
            var change = reversal.Amount.Minor < 0 ? $"took {(-reversal.Amount).InWords()} back" : $"gave {reversal.Amount.InWords()} more";
            yield return $"Refund {reversal.Refund} on {reversal.PostedOn.InWords()} {change}; {(left.Minor == 0 ? "nothing" : left.InWords())} is left.";
        }
    }

    private string Why(OrderLedger ledger, ShareAmount amount, LineFigures line)
    {
        if (amount.Key.Part == EntryPart.Recruiter) return $"{naming.Payee(amount.Key.Payee)} recruited {naming.Payee(amount.Share.Payee.Id)}.";
        return amount.Share.Agreement.Basis switch
        {
            Basis.Referral => Attribution(ledger),
            Basis.Supply => $"{naming.Payee(amount.Key.Payee)} supplies {naming.Product(line.Product.Id)}.",
            _ => $"{naming.Payee(amount.Key.Payee)} shares in {naming.Product(line.Product.Id)}, whoever brought the order.",
        };
    }

    private string Governing(OrderLedger ledger, ShareAmount amount, LineFigures line)
    {
        var (share, chosen) = (amount.Share, amount.Line.Term);
        var placedOn = rules.Policy.Time.DateOf(ledger.Order.PlacedAt);
        var passedOver = TermChoice.PassedOver(chosen, share.Payee, share.Agreement, share.Version, line.Product, line.Line.Variant, placedOn)
            .Where(p => p.Why != PassedOverTerm.OtherScope)
            .Select(p => $"{(p.Term.IsPersonal ? "personal " : "")}term {p.Term.Number}, {TermWords.Scope(p.Term.Term.Scope, naming)} ({Reason(p.Why)})")
            .ToArray();
        var cases = amount.Line.PassedOver.Select(p => $"case {p.Number} ({Reason(p, share.Agreement.Currency)})").ToArray();
        var conditions = TermWords.Conditions(amount.Line.Case!.When, share.Agreement.Currency);
        // A draft that is tried out holds from the beginning of time.
        var version = share.Version.From == DateOnly.MinValue ? "" : $", version from {share.Version.From.InWords()}";
        return $"{naming.Agreement(share.Agreement.Id)}{version}: "
            + $"{(chosen.IsPersonal ? "personal " : "")}term {chosen.Number}, on {TermWords.Scope(chosen.Term.Scope, naming)}"
            + (conditions.Length > 0 ? $" ({conditions})" : "")
            + $", gives {TermWords.Rate(amount.Line.Rate!, share.Agreement.Currency)}."
            + (cases.Length + passedOver.Length > 0 ? $" Passed over: {string.Join("; ", cases.Concat(passedOver))}." : "");
    }

    private static string Reason(PassedOverCase passed, Currency currency)
    {
        var when = passed.Case.When;
        return passed.Failed switch
        {
            FailedCondition.PaymentNumber => "for other payments of a plan",
            FailedCondition.Customer => when.Customer == CustomerKind.New ? "for new customers" : "for returning customers",
            FailedCondition.OrderValue => $"from {new Money(when.OrderValueAtLeast!.Value, currency).InWords()}, and the order comes to {new Money(passed.OrderValue!.Value, currency).InWords()}",
            _ => string.Join(" and ", TooLittle(when, passed.Reached!.Value, currency)) + $" {TermWords.Window(when.Window)}",
        };
    }

    private static IEnumerable<string> TooLittle(CaseConditions when, ProgressFigures reached, Currency currency)
    {
        if (reached.Sales < when.SalesAtLeast) yield return $"{new Money(reached.Sales, currency).InWords()} of {new Money(when.SalesAtLeast.Value, currency).InWords()} sold";
        if (reached.Orders < when.OrdersAtLeast) yield return $"{MoneyWords.Count(reached.Orders)} of {MoneyWords.Count(when.OrdersAtLeast.Value, "order")} brought";
        if (reached.Earned < when.EarnedAtLeast) yield return $"{new Money(reached.Earned, currency).InWords()} of {new Money(when.EarnedAtLeast.Value, currency).InWords()} earned";
    }

    private static string Reason(PassedOverTerm why) => why switch
    {
        PassedOverTerm.PersonalComesFirst => "a personal term comes first",
        PassedOverTerm.NarrowerScopeWins => "the narrower scope wins",
        PassedOverTerm.NotInForce => "not in force then",
        _ => "the earlier of two alike wins",
    };

    private static IEnumerable<string> Flat(ShareAmount amount)
    {
        var currency = amount.Share.Agreement.Currency;
        if (amount.Line.Rate!.PerUnit is { } perUnit)
        {
            yield return $"{MoneyWords.Count(amount.Trace!.Quantity, "unit")} at {new Money(perUnit, currency).InWords()}.";
        }
        if (amount.Line.Rate.PerOrder is { } perOrder)
        {
            yield return $"{new Money(perOrder, currency).InWords()} an order, of which {new Money(amount.Line.PerOrderPart, currency).InWords()} falls on this line by its share of the goods.";
        }
    }

    private static IEnumerable<string> PassedOn(ShareAmount amount, Currency currency) => amount.PassedOn.Select(p =>
        $"{Handed(p.Kind)} of {new Money(p.Whole, currency).InWords()} is passed on whole"
        + (p.Among > 1 ? $", in equal parts to {p.Among} payees: {new Money(p.Amount, currency).InWords()} here." : "."));

    private IEnumerable<string> Percent(OrderLedger ledger, ShareAmount amount)
    {
        var (trace, currency) = (amount.Trace!, ledger.Order.Currency);
        // What came to nothing changes nothing and is not told.
        var steps = trace.BaseSteps.Where((step, i) => i == 0 || step.Amount.Sign != 0).ToArray();
        yield return "Share base: " + string.Concat(steps.Select((step, i) => Step(step, i, currency)))
            + (steps.Length > 1 ? $" = {MoneyWords.InWords(trace.Base, currency)}." : ".");
        var rounding = trace.Rounding!;
        var exact = MoneyWords.InWords(rounding.Exact, currency);
        yield return amount.Key.Part == EntryPart.Recruiter
            ? $"{amount.Share.Version.RecruiterPercent!.Value.ToPercentText()} of {MoneyWords.InWords(trace.Base, currency)} is {exact}."
            : amount.Line.Rate!.Of == RateOf.House
                ? $"After what the house keeps, {exact} is left."
                : $"{amount.Line.Rate.Percent!.Value.ToPercentText()} of {MoneyWords.InWords(trace.Base, currency)} is {exact}.";
        yield return Rounded(rounding, currency, amount.Key.Payee);
    }

    private string Rounded(RoundingTrace rounding, Currency currency, PayeeId earner)
    {
        var result = new Money(rounding.Rounded, currency).InWords();
        if (rounding.WasWhole && rounding.Others == 0) return $"That is {result} without rounding.";
        if (rounding.Others == 0) return $"Rounded to {result}.";
        var together = $"Rounded together with {MoneyWords.Count(rounding.Others, "other share")} of this line, {MoneyWords.InWords(rounding.ExactSum, currency)} in all";
        return rounding.WasWhole ? $"{together}: {result}."
            : rounding.GotOddUnit ? $"{together}: the odd unit fell here, {result}."
            : rounding.OddUnitsTo.Count > 0 ? $"{together}: rounded down, {result}; the odd unit fell to {string.Join(" and ", rounding.OddUnitsTo.Where(p => p != earner).Select(naming.Payee))}."
            : $"{together}: rounded down, {result}.";
    }

    private static string Step(BaseStep step, int index, Currency currency)
    {
        var words = step.Kind switch
        {
            BaseStepKind.GoodsNet => "goods",
            BaseStepKind.DiscountExTax => "discount borne by the house",
            BaseStepKind.Tax => "tax",
            BaseStepKind.ShippingTax => "shipping tax",
            BaseStepKind.Shipping => "shipping",
            BaseStepKind.Rebate => "rebate",
            BaseStepKind.ProcessingFee => "processing fee",
            BaseStepKind.ChannelFee => "channel fee",
            BaseStepKind.Cost => "cost",
            BaseStepKind.Rank1 => "earned by the affiliate",
            _ => "raised to nothing, as a base is never below it",
        };
        var sign = index == 0 ? "" : step.Amount.Sign < 0 ? " − " : " + ";
        var amount = index > 0 && step.Amount.Sign < 0 ? -step.Amount : step.Amount;
        return $"{sign}{words} {MoneyWords.InWords(amount, currency)}";
    }

    private static string Handed(PassedKind kind) => kind switch
    {
        PassedKind.Tax => "Tax",
        PassedKind.ShippingTax => "Shipping tax",
        PassedKind.Shipping => "Shipping",
        _ => "The rebate",
    };

    private string Clearing(OrderLedger ledger, ShareAmount amount, LineFigures line)
    {
        var earner = rules.Payee(amount.Key.Payee);
        var clears = ClearingDate.OfSale(rules.Policy.Time, ledger.Order, ledger.PaidOn, earner, amount.Share.Version, line.Product);
        if (clears is not { } date) return "Held until the order is signed off.";
        var hold = earner.HoldDays ?? amount.Share.Version.HoldDays;
        var because = line.Product.ReturnDays > hold
            ? $"the product can be returned for {MoneyWords.Count(line.Product.ReturnDays, "day")}"
            : hold == 0 ? "there is no hold"
            : $"a hold of {MoneyWords.Count(hold, "day")}{(earner.HoldDays is null ? "" : " set for this payee")}";
        return $"Paid on {rules.Policy.Time.DateOf(ledger.Order.PaidAt!.Value).InWords()}, clears on {date.InWords()}: {because}.";
    }
}
