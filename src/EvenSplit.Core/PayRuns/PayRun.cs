namespace EvenSplit.Core;

/// <summary>Works out what a run pays a payee (contract, section 9).</summary>
public static class PayRun
{
    /// <param name="asOf">In the book's zone; every conversion is made at this date.</param>
    public static Remittance WorkOut(ExchangeRates rates, DateOnly asOf, PayeeStanding standing) => WorkOut(rates, asOf, standing, asOf);

    /// <param name="convertOn">The date of conversions, where a run is only looked ahead to and has no rates yet.</param>
    public static Remittance WorkOut(ExchangeRates rates, DateOnly asOf, PayeeStanding standing, DateOnly convertOn)
    {
        var payee = standing.Payee;
        if (payee.OnHold) return Untouched(standing, RemittanceReason.OnHold);
        if (InPayoutCurrency(rates, convertOn, payee, standing.Cleared) is not { } earned
            || InPayoutCurrency(rates, convertOn, payee, standing.Adjustments) is not { } adjustments)
        {
            return Untouched(standing, RemittanceReason.RateMissing);
        }
        var recoupable = ((Fraction)Math.Max(0, earned) * payee.RecoupPercent).Round();
        var recoupedFrom = Recoup(payee, asOf, standing.RecoupedBefore, recoupable);
        var recouped = recoupedFrom.Sum(r => r.Amount);
        var withheld = ((Fraction)Math.Max(0, earned - recouped) * payee.WithholdingPercent).Round();
        var due = standing.Opening + earned + adjustments - recouped - withheld;
        var fee = standing.PaymentsThisYear < payee.FreeTransfers ? 0 : payee.TransferFee;
        var isPaid = due - fee > 0 && due - fee >= payee.Minimum;
        return new Remittance
        {
            Payee = payee.Id,
            Currency = payee.PayoutCurrency,
            Opening = standing.Opening,
            Earned = earned,
            Adjustments = adjustments,
            Recouped = recouped,
            RecoupedFrom = recoupedFrom,
            Withheld = withheld,
            TransferFee = isPaid ? fee : 0,
            Paid = isPaid ? due - fee : 0,
            Carried = isPaid ? 0 : due,
            Reason = isPaid ? RemittanceReason.Paid
                : due == 0 ? RemittanceReason.Nothing
                : due < 0 ? RemittanceReason.Negative
                : RemittanceReason.BelowMinimum,
        };
    }

    private static Remittance Untouched(PayeeStanding standing, RemittanceReason reason) => new()
    {
        Payee = standing.Payee.Id,
        Currency = standing.Payee.PayoutCurrency,
        Opening = standing.Opening,
        Carried = standing.Opening,
        Reason = reason,
    };

    private static long? InPayoutCurrency(ExchangeRates rates, DateOnly convertOn, Payee payee, IReadOnlyCollection<Money> amounts)
    {
        long sum = 0;
        foreach (var amount in amounts)
        {
            if (rates.Convert(amount.Minor, amount.Currency, payee.PayoutCurrency, convertOn) is not { } converted) return null;
            sum += converted;
        }
        return sum;
    }

    private static List<(string AdvanceId, long Amount)> Recoup(
        Payee payee, DateOnly asOf, IReadOnlyDictionary<string, long> recoupedBefore, long recoupable)
    {
        var taken = new List<(string AdvanceId, long Amount)>();
        var advances = payee.Advances.Where(a => a.On <= asOf).OrderBy(a => a.On).ThenBy(a => a.Id, IdOrder.Comparer);
        foreach (var advance in advances)
        {
            var amount = Math.Min(recoupable, advance.Amount - recoupedBefore.GetValueOrDefault(advance.Id));
            if (amount <= 0) continue;
            taken.Add((advance.Id, amount));
            recoupable -= amount;
        }
        return taken;
    }
}
