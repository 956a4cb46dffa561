namespace EvenSplit.Core;

/// <summary>
/// In the order of their names, which is how exceptions are listed; what the contract does not know comes after (a price off plan is found
/// by the price audit, not by the calculation).
/// </summary>
public enum ExceptionCode { FeeMissing, OverCommitted, PayeeInactive, RateMissing, RefundExceeds, SelfReferral, PriceOffPlan }

/// <summary>Something about an order or a payee that needs a person.</summary>
public sealed record CalculationException(ExceptionCode Code, OrderId? Order, LineId? Line = null, PayeeId? Payee = null)
{
    /// <summary>Each once, by code, order, line and payee; what names none of them comes before what does.</summary>
    public static CalculationException[] Listed(IEnumerable<CalculationException> exceptions) => exceptions
        .Distinct()
        .OrderBy(e => e.Code)
        .ThenBy(e => e.Order?.Value ?? "", IdOrder.Comparer)
        .ThenBy(e => e.Line?.Value ?? "", IdOrder.Comparer)
        .ThenBy(e => e.Payee?.Value ?? "", IdOrder.Comparer)
        .ToArray();
}
