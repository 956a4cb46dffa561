namespace EvenSplit.Core;

/// <summary>What an agreement shows those who are on it. Unit costs, others' shares and what the house keeps are never shown.</summary>
/// <param name="Steps">Whether the way to the share base is shown step by step, or the base alone.</param>
/// <param name="Fees">Whether fees of processors and channels are steps of their own.</param>
public readonly record struct PayeeSight(bool Steps, bool Fees);

/// <summary>A step on the way to the share base, signed, in minor units of the order's currency.</summary>
public sealed record PayeeStep(string Words, Fraction Amount);

/// <summary>How one amount came about, as its payee may see it.</summary>
/// <param name="Why">Why it is theirs.</param>
/// <param name="Steps">They add up to <paramref name="Base"/>; empty for a flat amount or one handed over whole.</param>
/// <param name="LeavesOut">Whether something that is not shown is taken off within the steps.</param>
/// <param name="After">From the base to the amount, and what became of it since.</param>
public sealed record PayeeTrace(Money Amount, string Why, IReadOnlyList<PayeeStep> Steps, Fraction? Base, bool LeavesOut, IReadOnlyList<string> After);

/// <summary>
/// Tells a payee how an amount came about, in their words. What they may not see is folded into the first step: shown as a sum of its own, a single hidden amount could be read off.
/// </summary>
public sealed class PayeeTraceTeller(Rulebook rules, Naming naming)
{
    /// <param name="amount">An amount of <paramref name="ledger"/>, worked out with traces.</param>
    public PayeeTrace Tell(OrderLedger ledger, ShareAmount amount, PayeeSight sight)
    {
        var (steps, leavesOut) = amount.Key.Part is EntryPart.Percent or EntryPart.Recruiter ? Steps(amount.Trace!, sight) : ([], false);
        return new PayeeTrace(amount.Amount, Why(ledger, amount), steps, steps.Count > 0 ? amount.Trace!.Base : null, leavesOut, [.. From(ledger, amount), .. Since(ledger, amount)]);
    }

    private static (IReadOnlyList<PayeeStep> Steps, bool LeavesOut) Steps(ShareTrace trace, PayeeSight sight)
    {
        if (!sight.Steps) return ([new PayeeStep("What your share is taken of", trace.Base)], false);
        var hidden = trace.BaseSteps.Where(s => s.Amount.Sign != 0 && IsHidden(s.Kind, sight)).ToArray();
        var first = trace.BaseSteps.Where(s => s.Kind == BaseStepKind.GoodsNet).Concat(hidden).Aggregate(Fraction.Zero, (sum, step) => sum + step.Amount);
        var shown = trace.BaseSteps.Where(s => s.Kind != BaseStepKind.GoodsNet && s.Amount.Sign != 0 && !IsHidden(s.Kind, sight)).Select(s => new PayeeStep(Words(s.Kind), s.Amount));
        return ([new PayeeStep(hidden.Length > 0 ? "Goods, without tax, less other deductions agreed in your agreement" : "Goods, without tax", first), .. shown], hidden.Length > 0);
    }

    private static bool IsHidden(BaseStepKind kind, PayeeSight sight) =>
        kind is BaseStepKind.Cost or BaseStepKind.Rank1 || (!sight.Fees && kind is BaseStepKind.ProcessingFee or BaseStepKind.ChannelFee);

    private static string Words(BaseStepKind kind) => kind switch
    {
        BaseStepKind.DiscountExTax => "Discount that the house bears",
        BaseStepKind.Tax => "Tax",
        BaseStepKind.ShippingTax => "Tax on shipping",
        BaseStepKind.Shipping => "Shipping",
        BaseStepKind.Rebate => "Rebate of the sales channel",
        BaseStepKind.ProcessingFee => "Fee of the payment processor",
        BaseStepKind.ChannelFee => "Fee of the sales channel",
        _ => "It is never below nothing",
    };

    private string Why(OrderLedger ledger, ShareAmount amount)
    {
        var product = naming.Product(ledger.Figures.Lines[amount.Key.LineIndex].Product.Id);
        if (amount.Key.Part == EntryPart.Recruiter) return "Somebody whom you recruited brought this order.";
        return amount.Share.Agreement.Basis switch
        {
            Basis.Supply => $"You supply {product}.",
            Basis.Contribution => $"You share in {product}, whoever brings the order.",
            _ => ledger.Attribution.Via switch
            {
                AttributionVia.Manual => "The order was assigned to you.",
                AttributionVia.Code => $"Your code {ledger.Attribution.Candidates.FirstOrDefault(c => c.Verdict == CandidateVerdict.Won)?.Evidence} is on the order.",
                AttributionVia.Renewal => "It renews an order that you brought.",
                _ => "The buyer came by your link.",
            },
        };
    }

    private IEnumerable<string> From(OrderLedger ledger, ShareAmount amount)
    {
        var (rate, currency) = (amount.Line.Rate, amount.Share.Agreement.Currency);
        switch (amount.Key.Part)
        {
            case EntryPart.Fixed:
                if (rate!.PerUnit is { } perUnit) yield return $"{MoneyWords.Count(amount.Trace!.Quantity, "unit")} at {new Money(perUnit, currency).InWords()}.";
                if (rate.PerOrder is { } perOrder) yield return $"{new Money(perOrder, currency).InWords()} an order, of which {new Money(amount.Line.PerOrderPart, currency).InWords()} falls on this product.";
                break;
            case EntryPart.Passed:
                foreach (var passed in amount.PassedOn) yield return $"{Handed(passed.Kind)} is handed on to you: {new Money(passed.Amount, ledger.Order.Currency).InWords()}.";
                break;
            default:
                var exact = MoneyWords.InWords(amount.Trace!.Rounding!.Exact, ledger.Order.Currency);
                yield return amount.Key.Part == EntryPart.Recruiter ? $"Your {amount.Share.Version.RecruiterPercent!.Value.ToPercentText()} of that is {exact}."
                    : rate!.Of == RateOf.House ? $"What is left of that after the part of the house is {exact}."
                    : $"Your {rate.Percent!.Value.ToPercentText()} of that is {exact}.";
                if (!amount.Trace.Rounding.WasWhole) yield return $"Rounded to {new Money(amount.Trace.Rounding.Rounded, ledger.Order.Currency).InWords()}.";
                break;
        }
        var conditions = TermWords.Conditions(amount.Line.Case!.When, currency);
        if (conditions.Length > 0) yield return $"That holds {conditions}.";
        var line = ledger.Figures.Lines[amount.Key.LineIndex];
        yield return ClearingDate.OfSale(rules.Policy.Time, ledger.Order, ledger.PaidOn, rules.Payee(amount.Key.Payee), amount.Share.Version, line.Product) is { } clears
            ? $"It was bought on {rules.Policy.Time.DateOf(ledger.Order.PaidAt!.Value).InWords()} and clears on {clears.InWords()}."
            : "It clears once the order is signed off.";
    }

    private static IEnumerable<string> Since(OrderLedger ledger, ShareAmount amount)
    {
        var (key, left) = (amount.Key, amount.Amount);
        foreach (var reversal in ledger.Reversals)
        {
            if (reversal.Line != ledger.Order.Lines[key.LineIndex].Id || reversal.Payee != key.Payee || reversal.Agreement != key.Agreement || reversal.Part != key.Part) continue;
            left += reversal.Amount;
            yield return $"A refund on {reversal.PostedOn.InWords()} {(reversal.Amount.Minor < 0 ? $"took {(-reversal.Amount).InWords()} back" : $"gave {reversal.Amount.InWords()} more")}; {(left.Minor == 0 ? "nothing" : left.InWords())} is left.";
        }
    }

    private static string Handed(PassedKind kind) => kind switch
    {
        PassedKind.Tax => "Tax",
        PassedKind.ShippingTax => "Tax on shipping",
        PassedKind.Shipping => "Shipping",
        _ => "The rebate of the sales channel",
    };
}
