using EvenSplit.Books.Sales;
using EvenSplit.Core;

namespace EvenSplit.Web.Pictures;

/// <summary>The steps of an order's waterfall: discount, tax, shipping, fees and cost down to what is left to share, then the shares, then the house.</summary>
internal static class WaterfallSteps
{
    public static IEnumerable<WaterfallStep> Of(OrderView view, OrderFigures figures, Ribbon ribbon)
    {
        var cost = figures.Lines.Sum(l => l.Cost);
        if (view.Discount > 0)
        {
            yield return new WaterfallStep("Without the discount", figures.Charged + view.Discount, Party.House, true);
            yield return new WaterfallStep("Discount", -view.Discount, Party.House, false);
        }
        yield return new WaterfallStep("Charged", figures.Charged, Party.House, true);
        foreach (var step in new[]
        {
            new WaterfallStep("Tax", -figures.Tax, Party.Tax, false),
            new WaterfallStep("Shipping", -figures.ShippingNet, Party.Shipping, false),
            new WaterfallStep("Processing fee", -figures.ProcessingFee, Party.Fees, false),
            new WaterfallStep("Channel fee", -figures.ChannelFee, Party.Fees, false),
            new WaterfallStep("Rebate from the channel", figures.Rebate, Party.Fees, false),
            new WaterfallStep("Cost of the goods", -cost, Party.House, false),
        })
        {
            if (step.Amount != 0) yield return step;
        }
        var left = figures.GoodsNet - figures.ProcessingFee - figures.ChannelFee + figures.Rebate - cost;
        yield return new WaterfallStep("Left to share", left, Party.House, true);
        foreach (var share in Shares(view)) yield return share;
        var house = ribbon.Parts.Where(p => p.Party is Party.House or Party.Shipping).Sum(p => p.Amount);
        yield return new WaterfallStep("Left of it", house - figures.ShippingNet - cost, Party.House, true);
        if (figures.ShippingNet + cost > 0)
        {
            yield return new WaterfallStep(
                (figures.ShippingNet, cost) switch { (0, _) => "Cost, which the house bears", (_, 0) => "Shipping, which the house bears", _ => "Shipping and cost, which the house bears" },
                figures.ShippingNet + cost, Party.Shipping, false);
        }
        yield return new WaterfallStep("The house, before its costs", house, Party.House, true);
    }

    /// <summary>Each payee once, with what they earned at the sale, in the order's currency where it was earned in that.</summary>
    private static IEnumerable<WaterfallStep> Shares(OrderView view) => view.SaleEarnings.Select(earned => new WaterfallStep(
        earned.Payee, -earned.Amount, PartyOf(earned.Role), false, $"?entry={earned.FirstEntry}#trace"));

    public static Party PartyOf(PayeeRole role) => role switch
    {
        PayeeRole.Affiliate => Party.Affiliates,
        PayeeRole.Vendor => Party.Vendors,
        _ => Party.Collaborators,
    };
}
