namespace EvenSplit.Core;

/// <summary>
/// How far a payee had come before an order (contract, section 4): the highest values reached inside the window, never below 0.
/// Sales and earned are minor units of the currency of the agreement that asks.
/// </summary>
public readonly record struct ProgressFigures(long Sales, long Orders, long Earned)
{
    internal ProgressFigures And(in ProgressFigures more) => new(Sales + more.Sales, Orders + more.Orders, Earned + more.Earned);

    /// <summary>The higher of each figure.</summary>
    internal ProgressFigures OrHigher(in ProgressFigures other) => new(Math.Max(Sales, other.Sales), Math.Max(Orders, other.Orders), Math.Max(Earned, other.Earned));
}

/// <summary>Answers how far a payee had come before the order that is being worked out.</summary>
public interface IProgressBefore
{
    /// <param name="paidOn">Date of paidAt of the order that asks.</param>
    ProgressFigures Of(PayeeId payee, Agreement agreement, ProgressWindow window, DateOnly paidOn);
}
