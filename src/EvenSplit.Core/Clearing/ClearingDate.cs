namespace EvenSplit.Core;

/// <summary>When an earning clears (contract, section 8). Dates in the book's zone.</summary>
public static class ClearingDate
{
    /// <param name="paidOn">Date of the order's paidAt.</param>
    /// <param name="earner">The payee, or for a recruiter's entry the recruiter.</param>
    /// <returns>Null while a manual sign-off is awaited.</returns>
    public static DateOnly? OfSale(BookTime time, Order order, DateOnly paidOn, Payee earner, AgreementVersion version, Product product)
    {
        var hold = earner.HoldDays ?? version.HoldDays;
        var clears = After(paidOn, Math.Max(hold, product.ReturnDays));
        if (version.SignOff == SignOff.Auto) return clears;
        if (order.SignedOffAt is not { } signedOff) return null;
        var signedOn = time.DateOf(signedOff);
        return signedOn > clears ? signedOn : clears;
    }

    /// <summary>No later than the last day there is.</summary>
    private static DateOnly After(DateOnly date, int days) =>
        days > DateOnly.MaxValue.DayNumber - date.DayNumber ? DateOnly.MaxValue : date.AddDays(days);

    /// <summary>What a refund posts clears on the later of its own date and the sale's clearing date.</summary>
    public static DateOnly? OfRefund(DateOnly refundedOn, DateOnly? saleClearsOn) =>
        saleClearsOn is null ? null : refundedOn > saleClearsOn ? refundedOn : saleClearsOn;
}
