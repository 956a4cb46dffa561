namespace EvenSplit.Core;

/// <summary>The outcome of looking for a case: one found, none, or no telling until an exchange rate is there.</summary>
internal readonly record struct CaseOutcome(TermCase? Case, int Number, bool Waits);

/// <summary>The condition that kept a case from holding; the first that did, in the order in which they are asked.</summary>
public enum FailedCondition { PaymentNumber, Customer, Progress, OrderValue }

/// <summary>A case that was looked at and did not hold.</summary>
/// <param name="Number">Counts from 1 in the term's list.</param>
/// <param name="Reached">What the payee had reached, where that was too little.</param>
/// <param name="OrderValue">What the order came to, in the agreement's currency, where that was too little.</param>
public sealed record PassedOverCase(int Number, TermCase Case, FailedCondition Failed, ProgressFigures? Reached = null, long? OrderValue = null);

/// <summary>Finds the first case of a term whose conditions all hold for an order's line (contract, section 4).</summary>
internal readonly struct CaseChoice(Order order, long orderGoodsNet, ExchangeRates rates, DateOnly paidOn, IProgressBefore progress)
{
    /// <param name="passedOver">Where given, receives the cases before the one found, with what kept them from holding.</param>
    public CaseOutcome For(Term term, PayeeId payee, Agreement agreement, OrderLine line, List<PassedOverCase>? passedOver)
    {
        for (var i = 0; i < term.Cases.Count; i++)
        {
            var when = term.Cases[i].When;
            if (LineFails(when, line) is { } failed)
            {
                passedOver?.Add(new PassedOverCase(i + 1, term.Cases[i], failed));
                continue;
            }
            if (when.AskProgress && progress.Of(payee, agreement, when.Window, paidOn) is var reached && !when.HoldFor(reached))
            {
                passedOver?.Add(new PassedOverCase(i + 1, term.Cases[i], FailedCondition.Progress, Reached: reached));
                continue;
            }
            if (when.OrderValueAtLeast is { } least)
            {
                if (rates.Convert(orderGoodsNet, order.Currency, agreement.Currency, paidOn) is not { } value) return new CaseOutcome(null, 0, true);
                if (value < least)
                {
                    passedOver?.Add(new PassedOverCase(i + 1, term.Cases[i], FailedCondition.OrderValue, OrderValue: value));
                    continue;
                }
            }
            return new CaseOutcome(term.Cases[i], i + 1, false);
        }
        return default;
    }

    private FailedCondition? LineFails(CaseConditions when, OrderLine line)
    {
        var payment = line.PaymentNumber ?? 1;
        if (payment < when.PaymentFrom || payment > when.PaymentTo) return FailedCondition.PaymentNumber;
        return when.Customer is null || when.Customer == order.Customer ? null : FailedCondition.Customer;
    }
}
