namespace EvenSplit.Core;

/// <summary>What of a line is off the product's plans.</summary>
public enum PriceFault { Price, BeforeLaunch, SoldOut, Payment }

/// <summary>A line of an order that is off plan.</summary>
/// <param name="Expected">What there should have been: minor units of the order's currency for a price, how many were left, or how many payments there are; null for a launch.</param>
/// <param name="Actual">What there was, in the same unit.</param>
public sealed record PriceFinding(LineId Line, PriceFault Fault, long? Expected, long? Actual);

/// <summary>
/// Holds lines of orders against the plans of their products. It changes no figure. A price in another currency than the plan's cannot be
/// judged and is left alone; so is a renewal of a product whose price steps up, since it keeps the price it began with.
/// </summary>
public static class PriceAudit
{
    /// <param name="soldBefore">Units sold by first payments of orders placed earlier; asked for only where the plan counts sales.</param>
    public static IEnumerable<PriceFinding> Look(SellingPlan plan, Order order, OrderLine line, Func<long> soldBefore)
    {
        var payment = line.PaymentNumber ?? 1;
        if (MostPayments(plan.Payments) is { } most && payment > most) yield return new PriceFinding(line.Id, PriceFault.Payment, most, payment);
        if (payment == 0 && plan.Payments is { Trial: null }) yield return new PriceFinding(line.Id, PriceFault.Payment, 1, 0);
        if (payment <= 1 && order.PlacedAt < plan.Pricing?.NotBefore) yield return new PriceFinding(line.Id, PriceFault.BeforeLaunch, null, null);
        var sold = CountsAsSale(line) && plan.Pricing is { CountsSales: true } ? soldBefore() : 0;
        if (CountsAsSale(line) && plan.Pricing?.AtMost - sold is { } left && line.Quantity > left) yield return new PriceFinding(line.Id, PriceFault.SoldOut, Math.Max(0, left), line.Quantity);
        if (order.Currency == plan.Price.Currency && Expected(plan, payment, sold) is { } expected && Off(plan, payment, expected, line.UnitPrice))
        {
            yield return new PriceFinding(line.Id, PriceFault.Price, expected, line.UnitPrice);
        }
    }

    /// <summary>Whether a line is one of the sales that limits and steps count: a first or only payment.</summary>
    public static bool CountsAsSale(OrderLine line) => (line.PaymentNumber ?? 1) == 1;

    /// <summary>Whether a sale is judged the same after one number of units sold as after another.</summary>
    public static bool JudgesAlike(SellingPlan plan, long quantity, long sold, long otherSold) =>
        Missing(plan, quantity, sold) == Missing(plan, quantity, otherSold) && PriceAfter(plan, sold) == PriceAfter(plan, otherSold);

    /// <summary>Whether sales of so many units one after another are surely all judged the same, each after one number of units sold before the first as after another.</summary>
    public static bool JudgesAllAlike(SellingPlan plan, long units, long sold, long otherSold)
    {
        var (fewest, most) = (Math.Min(sold, otherSold), Math.Max(sold, otherSold) + units);
        return (plan.Pricing?.AtMost is not { } limit || most <= limit || fewest >= limit) && PriceAfter(plan, fewest) == PriceAfter(plan, most);
    }

    private static long? Missing(SellingPlan plan, long quantity, long sold) => plan.Pricing?.AtMost - sold is { } left && quantity > left ? Math.Max(0, left) : null;

    private static long? PriceAfter(SellingPlan plan, long sold) => plan.Pricing?.Steps?.PriceAfter(sold, plan.Price.Minor);

    private static int? MostPayments(PaymentPlan? payments) => payments?.Kind switch
    {
        PaymentKind.Once => 1,
        PaymentKind.Instalments => payments.Instalments,
        _ => null,
    };

    private static long? Expected(SellingPlan plan, int payment, long sold) => payment == 0
        ? plan.Payments?.Trial?.Price
        : plan.Pricing switch
        {
            null => null,
            { Steps: { } steps } => payment == 1 ? steps.PriceAfter(sold, plan.Price.Minor) : null,
            _ => plan.Price.Minor,
        };

    private static bool Off(SellingPlan plan, int payment, long expected, long actual) =>
        payment > 0 && plan.Pricing?.Kind == PriceKind.Minimum ? actual < expected : actual != expected;
}
