namespace EvenSplit.Core;

/// <summary>The outcome of looking for a case: one found, none, or no telling until an exchange rate is there.</summary>
internal readonly record struct CaseOutcome(TermCase? Case, int Number, bool Waits);

/// <summary>Finds the first case of a term whose conditions all hold for an order's line (contract, section 4).</summary>
internal readonly struct CaseChoice(Order order, long orderGoodsNet, ExchangeRates rates, DateOnly paidOn, IProgressBefore progress)
{
    public CaseOutcome For(Term term, PayeeId payee, Agreement agreement, OrderLine line)
    {
        for (var i = 0; i < term.Cases.Count; i++)
        {
            var when = term.Cases[i].When;
            if (!PaymentAndCustomerHold(when, line) || !ProgressHolds(when, payee, agreement)) continue;
            if (when.OrderValueAtLeast is { } least)
            {
                if (rates.Convert(orderGoodsNet, order.Currency, agreement.Currency, paidOn) is not { } value) return new CaseOutcome(null, 0, true);
                if (value < least) continue;
            }
            return new CaseOutcome(term.Cases[i], i + 1, false);
        }
        return default;
    }

    private bool PaymentAndCustomerHold(CaseConditions when, OrderLine line)
    {
        var payment = line.PaymentNumber ?? 1;
        return !(payment < when.PaymentFrom) && !(payment > when.PaymentTo) && (when.Customer is null || when.Customer == order.Customer);
    }

    private bool ProgressHolds(CaseConditions when, PayeeId payee, Agreement agreement) =>
        !when.AskProgress || when.HoldFor(progress.Of(payee, agreement, when.Window, paidOn));
}
