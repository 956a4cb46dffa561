namespace EvenSplit.Core;

/// <summary>What a line of a processor's settlement is about.</summary>
public enum MovementKind { Sale, Refund, Chargeback, Fee, Payout }

/// <summary>What the book expects a processor to settle (reconcile contract, section 2). Minor units of the order's currency, signed as the processor signs them: net = gross − fee.</summary>
/// <param name="Id">The refund's id; empty for the sale.</param>
/// <param name="At">The instant by which those of an order are taken.</param>
/// <param name="On">In the book's zone.</param>
public sealed record Movement(MovementKind Kind, string Id, DateTimeOffset At, DateOnly On, long Gross, long Fee)
{
    /// <summary><c>sale:ORDER</c>, <c>refund:REFUND</c> or <c>chargeback:REFUND</c>.</summary>
    public string Ours(OrderId order) => Kind switch
    {
        MovementKind.Sale => $"sale:{order}",
        MovementKind.Refund => $"refund:{Id}",
        _ => $"chargeback:{Id}",
    };
}

/// <summary>What an order and its refunds should bring in at its processor.</summary>
public static class Movements
{
    /// <summary>Of an order that nothing was refunded of, where its figures are known.</summary>
    public static Movement OfSale(BookTime time, DateTimeOffset paidAt, long charged, long processingFee) => new(MovementKind.Sale, "", paidAt, time.DateOf(paidAt), charged, processingFee);

    /// <summary>Of an order that is paid, no test and names a processor; of any other nothing. Those with gross and fee both 0 are none.</summary>
    /// <returns>By their instants, then ids; the sale first.</returns>
    public static IReadOnlyList<Movement> Of(Rulebook rules, Order order, IEnumerable<Refund> refunds)
    {
        if (order is not { IsTest: false, PaidAt: { } paidAt, Processor: not null }) return [];
        var figures = OrderWaterfall.WorkOut(rules, order, attributed: false, []);
        var movements = new List<Movement> { OfSale(rules.Policy.Time, paidAt, figures.Charged, figures.ProcessingFee) };
        var left = new WhatIsLeft(rules, order, figures);
        foreach (var refund in refunds.OrderBy(r => BookEvents.Moment.Of(r, order)))
        {
            var (before, returnedBefore) = (left.MoneyLeft, left.FeesReturned);
            left.Take(refund);
            var at = refund.TakesEffectAt(paidAt);
            movements.Add(new Movement(
                refund.Kind == RefundKind.Chargeback ? MovementKind.Chargeback : MovementKind.Refund, refund.Id.Value, at, rules.Policy.Time.DateOf(at),
                left.MoneyLeft - before, refund.DisputeFee - (left.FeesReturned - returnedBefore)));
        }
        return [.. movements.Where(m => m.Gross != 0 || m.Fee != 0)];
    }
}
