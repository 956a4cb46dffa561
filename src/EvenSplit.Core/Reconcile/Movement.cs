namespace EvenSplit.Core;

/// <summary>What a line of a processor's settlement is about.</summary>
public enum MovementKind { Sale, Refund, Chargeback, Fee, Payout }

/// <summary>What the book expects a processor to settle (reconcile contract, section 2). Minor units of the order's currency, signed as the processor signs them: net = gross − fee.</summary>
/// <param name="Id">The refund's id; empty for the sale.</param>
/// <param name="At">The instant by which those of an order are taken.</param>
/// <param name="On">In the book's zone.</param>
public sealed record Movement(MovementKind Kind, string Id, DateTimeOffset At, DateOnly On, long Gross, long Fee)
{
    /// <summary>What of the gross is goods, net.</summary>
    public long Goods { get; init; }

    /// <summary>What of the gross is shipping, net.</summary>
    public long Shipping { get; init; }

    /// <summary>What of the gross is tax, of goods and of shipping.</summary>
    public long Tax => Gross - Goods - Shipping;

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
    public static IReadOnlyList<Movement> Of(Rulebook rules, Order order, IEnumerable<Refund> refunds) =>
        order.Processor is null ? [] : [.. OfAny(rules, order, refunds).Where(m => m.Gross != 0 || m.Fee != 0)];

    /// <summary>What an order and its refunds move, at a processor or directly; nothing of a test or one that is not paid. The sale is always there.</summary>
    /// <returns>By their instants, then ids; the sale first.</returns>
    public static IReadOnlyList<Movement> OfAny(Rulebook rules, Order order, IEnumerable<Refund> refunds)
    {
        if (order is not { IsTest: false, PaidAt: { } paidAt }) return [];
        var figures = OrderWaterfall.WorkOut(rules, order, attributed: false, []);
        var movements = new List<Movement> { OfSale(rules.Policy.Time, paidAt, figures.Charged, figures.ProcessingFee) with { Goods = figures.GoodsNet, Shipping = figures.ShippingNet } };
        var left = new WhatIsLeft(rules, order, figures);
        foreach (var refund in refunds.OrderBy(r => BookEvents.Moment.Of(r, order)))
        {
            var (before, goodsBefore, shippingBefore, returnedBefore) = (left.MoneyLeft, left.GoodsLeft, left.ShippingLeft, left.FeesReturned);
            left.Take(refund);
            var at = refund.TakesEffectAt(paidAt);
            movements.Add(new Movement(
                refund.Kind == RefundKind.Chargeback ? MovementKind.Chargeback : MovementKind.Refund, refund.Id.Value, at, rules.Policy.Time.DateOf(at),
                left.MoneyLeft - before, refund.DisputeFee - (left.FeesReturned - returnedBefore))
            {
                Goods = left.GoodsLeft - goodsBefore,
                Shipping = left.ShippingLeft - shippingBefore,
            });
        }
        return movements;
    }
}
