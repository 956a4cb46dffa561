using System.Collections.Concurrent;
using EvenSplit.Core;

namespace EvenSplit.Formats.Scenarios;

/// <summary>Faults of orders. There may be a million of them, so a place is put into words only once something is wrong there.</summary>
internal static class OrderChecks
{
    /// <param name="documents">Those the orders were made of; null where they were read straight, which only takes words there are.</param>
    /// <returns>Where each order stands.</returns>
    public static Dictionary<string, int> Check(Order[] orders, IReadOnlyList<OrderDocument>? documents, DeclaredIds ids, FaultList faults)
    {
        // Most files have no fault; which one a faulty file has is told in the order of the file.
        var sound = documents is null && AreSound(orders, ids);
        var indexes = new Dictionary<string, int>(orders.Length);
        for (var i = 0; i < orders.Length; i++)
        {
            if (!indexes.TryAdd(orders[i].Id.Value, i)) faults.TwiceAt($"$.orders[{i}].id", "order", orders[i].Id.Value);
            if (documents is not null) WordsOf(documents[i], i, faults);
            if (!sound) Order(orders[i], i, ids, faults);
        }
        Origins(orders, indexes, faults);
        return indexes;
    }

    private static bool AreSound(Order[] orders, DeclaredIds ids) => orders.Length == 0 || Parallel.ForEach(Partitioner.Create(0, orders.Length), (range, loop) =>
    {
        var faults = new FaultList();
        for (var i = range.Item1; i < range.Item2; i++) Order(orders[i], i, ids, faults);
        if (faults.Faults.Count > 0) loop.Stop();
    }).IsCompleted;

    private static void WordsOf(OrderDocument order, int i, FaultList faults)
    {
        faults.CurrencyAt($"$.orders[{i}].currency", order.Currency);
        faults.WordAt<CustomerKind>($"$.orders[{i}].customer", order.Customer);
    }

    private static void Order(Order order, int i, DeclaredIds ids, FaultList faults)
    {
        Values(order, i, faults);
        References(order, i, ids, faults);
        Lines(order, i, ids, faults);
    }

    private static void Values(Order order, int i, FaultList faults)
    {
        Amount(order.Discount, ".discount");
        Amount(order.Shipping, ".shipping.amount");
        Amount(order.ShippingTax, ".shipping.tax");
        Amount(order.ProcessingFee, ".processingFee");
        Amount(order.ChannelFee, ".channelFee");
        Amount(order.Rebate, ".rebate");
        if (order.PricesIncludeTax && order.ShippingTax > order.Shipping)
        {
            faults.Add($"$.orders[{i}].shipping.tax", $"{order.ShippingTax} is above the shipping of {order.Shipping}, though prices include tax.");
        }

        void Amount(long? minor, string field)
        {
            if (minor is { } value && !ValueFaults.IsMoney(value)) faults.Add($"$.orders[{i}]{field}", ValueFaults.Amount(value));
        }
    }

    private static void References(Order order, int i, DeclaredIds ids, FaultList faults)
    {
        if (order.ManualPayee is { } manual && !ids.Payees.Contains(manual.Value)) faults.UnknownAt($"$.orders[{i}].manualPayee", "payee", manual.Value);
        for (var c = 0; c < order.Clicks.Count; c++)
        {
            if (!ids.Payees.Contains(order.Clicks[c].Payee.Value)) faults.UnknownAt($"$.orders[{i}].clicks[{c}].payee", "payee", order.Clicks[c].Payee.Value);
        }
    }

    private static void Lines(Order order, int i, DeclaredIds ids, FaultList faults)
    {
        if (order.Lines.Count == 0) faults.Add($"$.orders[{i}].lines", "an order has at least one line.");
        Int128 left = 0;
        var sound = order.Lines.Count > 0;
        for (var l = 0; l < order.Lines.Count; l++)
        {
            var line = order.Lines[l];
            for (var e = 0; e < l; e++)
            {
                if (order.Lines[e].Id == line.Id) Fault(l, ".id", $"line '{line.Id}' is there already; an id is used once in an order.");
            }
            if (!ids.Products.Contains(line.Product.Value)) faults.UnknownAt($"$.orders[{i}].lines[{l}].product", "product", line.Product.Value);
            if (line.Variant is { } variant)
            {
                if (!ids.ProductByVariant.TryGetValue(variant.Value, out var product)) faults.UnknownAt($"$.orders[{i}].lines[{l}].variant", "variant", variant.Value);
                else if (product != line.Product.Value) Fault(l, ".variant", $"variant '{variant}' is product '{product}', not '{line.Product}'.");
            }
            if (line.Quantity is < 1 or > Money.MaxMinor) Fault(l, ".quantity", $"{line.Quantity} is no quantity; a line sells at least 1.");
            if (!ValueFaults.IsMoney(line.UnitPrice)) Fault(l, ".unitPrice", ValueFaults.Amount(line.UnitPrice));
            if (!ValueFaults.IsMoney(line.Discount)) Fault(l, ".discount", ValueFaults.Amount(line.Discount));
            if (!ValueFaults.IsMoney(line.Tax)) Fault(l, ".tax", ValueFaults.Amount(line.Tax));
            if (line.PaymentNumber < 0) Fault(l, ".paymentNumber", $"{line.PaymentNumber} is below 0; 0 is a trial.");
            if (!sound) continue;
            var list = (Int128)line.UnitPrice * line.Quantity;
            if (list > Money.MaxMinor) Fault(l, ".unitPrice", $"price × quantity is {list}, beyond {Money.MaxMinor}, the largest amount there is.");
            else if (line.Discount > list) Fault(l, ".discount", $"{line.Discount} is above the {list} it is taken from.");
            left += list - line.Discount;
        }
        if (!sound) return;
        if (left > Money.MaxMinor) faults.Add($"$.orders[{i}].lines", $"together the lines come to {left}, beyond {Money.MaxMinor}, the largest amount there is.");
        else if (order.Discount > left) faults.Add($"$.orders[{i}].discount", $"{order.Discount} is above the {left} it is taken from.");
        else if (order.PricesIncludeTax) TaxInside(order, i, faults);

        void Fault(int l, string field, string message)
        {
            sound = false;
            faults.Add($"$.orders[{i}].lines[{l}]{field}", message);
        }
    }

    private static void TaxInside(Order order, int i, FaultList faults)
    {
        var own = new long[order.Lines.Count];
        for (var l = 0; l < own.Length; l++) own[l] = order.Lines[l].UnitPrice * order.Lines[l].Quantity - order.Lines[l].Discount;
        var shares = order.Discount is > 0 and <= Money.MaxMinor and var discount ? Allocation.Allocate(discount, own) : null;
        for (var l = 0; l < own.Length; l++)
        {
            var price = own[l] - (shares?[l] ?? 0);
            if (order.Lines[l].Tax > price)
            {
                faults.Add($"$.orders[{i}].lines[{l}].tax", $"{order.Lines[l].Tax} is above the {price} left after discounts, though prices include tax.");
            }
        }
    }

    /// <summary>Every chain of origins is walked once; one that comes back to where it has been is a fault, told at its first order.</summary>
    private static void Origins(Order[] orders, Dictionary<string, int> indexes, FaultList faults)
    {
        var walkOf = new int[orders.Length];
        for (var start = 0; start < orders.Length; start++)
        {
            var at = start;
            while (walkOf[at] == 0)
            {
                walkOf[at] = start + 1;
                if (orders[at].Origin is not { } origin || !indexes.TryGetValue(origin.Value, out var next)) break;
                if (walkOf[next] == start + 1) faults.Add($"$.orders[{next}].originOrderId", $"the origin of order '{orders[next].Id}' leads back to itself.");
                at = next;
            }
        }
    }
}
