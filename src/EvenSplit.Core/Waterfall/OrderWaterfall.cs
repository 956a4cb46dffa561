namespace EvenSplit.Core;

/// <summary>Works out what an order brings in, line by line (contract, section 2).</summary>
public static class OrderWaterfall
{
    /// <summary>Orders are short; what is only needed on the way is kept off the heap for so many lines.</summary>
    internal const int FewLines = 32;

    /// <param name="attributed">Whether somebody brought the order: a scheduled rebate is credited only then.</param>
    /// <param name="exceptions">Receives <c>fee-missing</c> and <c>rate-missing</c>.</param>
    public static OrderFigures WorkOut(Rulebook rules, Order order, bool attributed, ICollection<CalculationException> exceptions)
    {
        var sold = order.LineSpan;
        var count = sold.Length;
        // The columns of a table with a row per line.
        Span<long> columns = count <= FewLines ? stackalloc long[count * 8] : new long[count * 8];
        var goods = columns[..count];
        var orderDiscount = columns.Slice(count, count);
        var shipping = columns.Slice(count * 2, count);
        var shippingTax = columns.Slice(count * 3, count);
        var processingShares = columns.Slice(count * 4, count);
        var channelShares = columns.Slice(count * 5, count);
        var rebateShares = columns.Slice(count * 6, count);
        var weights = columns.Slice(count * 7, count);

        for (var i = 0; i < count; i++)
        {
            var line = sold[i];
            goods[i] = line.UnitPrice * line.Quantity - line.Discount;
        }
        Allocation.Allocate(order.Discount, goods, [], orderDiscount);
        long goodsNet = 0, lineTax = 0;
        for (var i = 0; i < count; i++)
        {
            var line = sold[i];
            goods[i] -= orderDiscount[i] + (order.PricesIncludeTax ? line.Tax : 0);
            goodsNet += goods[i];
            lineTax += line.Tax;
        }
        var shippingNet = order.Shipping - (order.PricesIncludeTax ? order.ShippingTax : 0);
        var charged = goodsNet + lineTax + shippingNet + order.ShippingTax;
        var fees = new FeeSchedules(rules, order, exceptions);
        var (processing, processingSource) = fees.Processing(charged);
        var (channel, channelSource) = fees.Channel(goodsNet);
        var rebate = fees.Rebate(goodsNet, attributed);

        ShippingShares(order, shippingNet, goods, weights, shipping);
        ShippingShares(order, order.ShippingTax, goods, weights, shippingTax);
        Allocation.Allocate(processing, goods, [], processingShares);
        Allocation.Allocate(channel, goods, [], channelShares);
        Allocation.Allocate(rebate, goods, [], rebateShares);
        var lines = new LineFigures[count];
        for (var i = 0; i < count; i++)
        {
            var line = sold[i];
            var product = rules.Sold(line.Product);
            var discount = line.Discount + orderDiscount[i];
            lines[i] = new LineFigures(product)
            {
                Line = line,
                Discount = discount,
                DiscountExTax = discount != 0 && order.PricesIncludeTax && goods[i] + line.Tax > 0
                    ? ((Fraction)discount * goods[i] / (goods[i] + line.Tax)).Round()
                    : discount,
                GoodsNet = goods[i],
                Shipping = shipping[i],
                ShippingTax = shippingTax[i],
                ProcessingFee = processingShares[i],
                ChannelFee = channelShares[i],
                Rebate = rebateShares[i],
                Cost = fees.Cost(product.Product, line.Quantity),
            };
        }
        return new OrderFigures(lines)
        {
            GoodsNet = goodsNet,
            ShippingNet = shippingNet,
            ShippingTax = order.ShippingTax,
            Tax = lineTax + order.ShippingTax,
            Charged = charged,
            ProcessingFee = processing,
            ProcessingFeeSource = processingSource,
            ChannelFee = channel,
            ChannelFeeSource = channelSource,
            Rebate = rebate,
        };
    }

    /// <summary>
    /// Allocates shipping, or its tax, over the goods of the lines that need shipping; over all lines when none does. A line that is left
    /// out gets 0 even when all weights are 0.
    /// </summary>
    /// <param name="room">As long as the lines; written over.</param>
    internal static void ShippingShares(Order order, long total, ReadOnlySpan<long> goodsNet, Span<long> room, Span<long> shares)
    {
        shares.Clear();
        if (total == 0) return;
        var shipped = 0;
        for (var i = 0; i < goodsNet.Length; i++)
        {
            if (order.LineSpan[i].RequiresShipping) room[shipped++] = goodsNet[i];
        }
        if (shipped == 0 || shipped == goodsNet.Length)
        {
            Allocation.Allocate(total, goodsNet, [], shares);
            return;
        }
        Allocation.Allocate(total, room[..shipped], [], shares[..shipped]);
        // From the back, so that no share is written over before it has moved to its line.
        for (var i = goodsNet.Length - 1; i >= 0; i--) shares[i] = order.LineSpan[i].RequiresShipping ? shares[--shipped] : 0;
    }
}
