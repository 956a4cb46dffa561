namespace EvenSplit.Core;

/// <summary>
/// What the calculation may rely on for any order, by whatever door it comes (contract, section 10). The one place that knows; readers only
/// put into words what it finds.
/// </summary>
public static class OrderCheck
{
    /// <param name="faults">Receives what is at fault, the order's own fields first, then its lines, then what they come to together.</param>
    public static void Check(Order order, IKnownIds ids, List<SalesFault> faults)
    {
        Ids(order, ids, faults);
        Amount(faults, SalesField.Discount, order.Discount);
        Amount(faults, SalesField.Shipping, order.Shipping);
        Amount(faults, SalesField.ShippingTax, order.ShippingTax);
        Amount(faults, SalesField.ProcessingFee, order.ProcessingFee ?? 0);
        Amount(faults, SalesField.ChannelFee, order.ChannelFee ?? 0);
        Amount(faults, SalesField.Rebate, order.Rebate ?? 0);
        if (order.PricesIncludeTax && order.ShippingTax > order.Shipping)
        {
            faults.Add(new SalesFault(SalesField.ShippingTax, SalesFaultKind.AboveWhole, -1, order.ShippingTax, order.Shipping));
        }
        if (order.Lines.Count == 0)
        {
            faults.Add(new SalesFault(SalesField.Lines, SalesFaultKind.None));
            return;
        }
        var before = faults.Count;
        Int128 lists = 0;
        for (var i = 0; i < order.Lines.Count; i++) lists += Line(order, i, ids, faults);
        if (faults.Count > before) return;
        if (lists > Money.MaxMinor) faults.Add(new SalesFault(SalesField.Lines, SalesFaultKind.Beyond, -1, lists, Money.MaxMinor));
        else Together(order, faults);
    }

    private static void Ids(Order order, IKnownIds ids, List<SalesFault> faults)
    {
        NotEmpty(faults, SalesField.Id, order.Id.Value);
        NotEmpty(faults, SalesField.Channel, order.Channel.Value);
        NotEmpty(faults, SalesField.Processor, order.Processor?.Value);
        NotEmpty(faults, SalesField.Origin, order.Origin?.Value);
        if (order.ManualPayee is { } manual && !ids.HasPayee(manual)) faults.Add(new SalesFault(SalesField.ManualPayee, SalesFaultKind.Unknown, Text: manual.Value));
        for (var i = 0; i < order.Codes.Count; i++) NotEmpty(faults, SalesField.Code, order.Codes[i], i);
        for (var i = 0; i < order.Clicks.Count; i++)
        {
            if (!ids.HasPayee(order.Clicks[i].Payee)) faults.Add(new SalesFault(SalesField.ClickPayee, SalesFaultKind.Unknown, i, Text: order.Clicks[i].Payee.Value));
        }
    }

    /// <returns>Price × quantity.</returns>
    private static Int128 Line(Order order, int i, IKnownIds ids, List<SalesFault> faults)
    {
        var line = order.Lines[i];
        NotEmpty(faults, SalesField.LineId, line.Id.Value, i);
        for (var e = 0; e < i; e++)
        {
            if (order.Lines[e].Id != line.Id) continue;
            faults.Add(new SalesFault(SalesField.LineId, SalesFaultKind.Twice, i, Text: line.Id.Value));
            break;
        }
        if (!ids.HasProduct(line.Product)) faults.Add(new SalesFault(SalesField.Product, SalesFaultKind.Unknown, i, Text: line.Product.Value));
        if (line.Variant is { } variant)
        {
            var of = ids.ProductOf(variant);
            if (of is null) faults.Add(new SalesFault(SalesField.Variant, SalesFaultKind.Unknown, i, Text: variant.Value));
            else if (of != line.Product) faults.Add(new SalesFault(SalesField.Variant, SalesFaultKind.OfOther, i, Text: variant.Value, Other: of.Value.Value));
        }
        var before = faults.Count;
        if (line.Quantity < 1) faults.Add(new SalesFault(SalesField.Quantity, SalesFaultKind.Below, i, line.Quantity, 1));
        if (line.Quantity > Money.MaxMinor) faults.Add(new SalesFault(SalesField.Quantity, SalesFaultKind.Beyond, i, line.Quantity, Money.MaxMinor));
        Amount(faults, SalesField.UnitPrice, line.UnitPrice, i);
        Amount(faults, SalesField.LineDiscount, line.Discount, i);
        Amount(faults, SalesField.LineTax, line.Tax, i);
        if (line.PaymentNumber < 0) faults.Add(new SalesFault(SalesField.PaymentNumber, SalesFaultKind.Below, i, line.PaymentNumber.Value, 0));
        if (faults.Count > before) return 0;
        var list = (Int128)line.UnitPrice * line.Quantity;
        if (list > Money.MaxMinor) faults.Add(new SalesFault(SalesField.UnitPrice, SalesFaultKind.ListBeyond, i, list, Money.MaxMinor));
        else if (line.Discount > list) faults.Add(new SalesFault(SalesField.LineDiscount, SalesFaultKind.AboveWhole, i, line.Discount, list));
        return list;
    }

    /// <summary>What only shows when each line is in order: the order's discount, and tax inside prices.</summary>
    private static void Together(Order order, List<SalesFault> faults)
    {
        var own = new long[order.Lines.Count];
        for (var i = 0; i < own.Length; i++) own[i] = order.Lines[i].UnitPrice * order.Lines[i].Quantity - order.Lines[i].Discount;
        var left = own.Sum();
        if (order.Discount is < 0 or > Money.MaxMinor) return;
        if (order.Discount > left)
        {
            faults.Add(new SalesFault(SalesField.Discount, SalesFaultKind.AboveWhole, -1, order.Discount, left));
            return;
        }
        if (!order.PricesIncludeTax) return;
        // Tax inside a price is held against the price after the line's part of the order's discount too.
        var shares = order.Discount > 0 ? Allocation.Allocate(order.Discount, own) : null;
        for (var i = 0; i < own.Length; i++)
        {
            var price = own[i] - (shares?[i] ?? 0);
            if (order.Lines[i].Tax > price) faults.Add(new SalesFault(SalesField.LineTax, SalesFaultKind.AboveWhole, i, order.Lines[i].Tax, price));
        }
    }

    internal static void Amount(List<SalesFault> faults, SalesField field, long minor, int index = -1)
    {
        if (minor < 0) faults.Add(new SalesFault(field, SalesFaultKind.Below, index, minor, 0));
        else if (minor > Money.MaxMinor) faults.Add(new SalesFault(field, SalesFaultKind.Beyond, index, minor, Money.MaxMinor));
    }

    internal static void NotEmpty(List<SalesFault> faults, SalesField field, string? id, int index = -1)
    {
        if (id is { Length: 0 }) faults.Add(new SalesFault(field, SalesFaultKind.Empty, index));
    }
}
