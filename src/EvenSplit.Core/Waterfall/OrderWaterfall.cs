namespace EvenSplit.Core;

/// <summary>Works out what an order brings in, line by line (contract, section 2).</summary>
public static class OrderWaterfall
{
    /// <param name="attributed">Whether somebody brought the order: a scheduled rebate is credited only then.</param>
    /// <param name="exceptions">Receives <c>fee-missing</c> and <c>rate-missing</c>.</param>
    public static OrderFigures WorkOut(Rulebook rules, Order order, bool attributed, ICollection<CalculationException> exceptions)
    {
        var count = order.Lines.Count;
        var own = new long[count];
        for (var i = 0; i < count; i++)
        {
            var line = order.Lines[i];
            own[i] = line.UnitPrice * line.Quantity - line.Discount;
        }
        var orderDiscount = Allocation.Allocate(order.Discount, own);
        var goods = new long[count];
        long goodsNet = 0, lineTax = 0;
        for (var i = 0; i < count; i++)
        {
            var line = order.Lines[i];
            goods[i] = own[i] - orderDiscount[i] - (order.PricesIncludeTax ? line.Tax : 0);
            goodsNet += goods[i];
            lineTax += line.Tax;
        }
        var shippingNet = order.Shipping - (order.PricesIncludeTax ? order.ShippingTax : 0);
        var charged = goodsNet + lineTax + shippingNet + order.ShippingTax;
        var shippingWeights = ShippingWeights(order, goods);
        var fees = new FeeSchedules(rules, order, exceptions);
        var (processing, processingSource) = fees.Processing(charged);
        var (channel, channelSource) = fees.Channel(goodsNet);
        var rebate = fees.Rebate(goodsNet, attributed);

        var shipping = ShippingShares(shippingNet, shippingWeights);
        var shippingTax = ShippingShares(order.ShippingTax, shippingWeights);
        var processingShares = Allocation.Allocate(processing, goods);
        var channelShares = Allocation.Allocate(channel, goods);
        var rebateShares = Allocation.Allocate(rebate, goods);
        var lines = new LineFigures[count];
        for (var i = 0; i < count; i++)
        {
            var line = order.Lines[i];
            var product = rules.Product(line.Product);
            var discount = line.Discount + orderDiscount[i];
            lines[i] = new LineFigures
            {
                Line = line,
                Product = product,
                List = line.UnitPrice * line.Quantity,
                Discount = discount,
                DiscountExTax = order.PricesIncludeTax && goods[i] + line.Tax > 0
                    ? ((Fraction)discount * goods[i] / (goods[i] + line.Tax)).Round()
                    : discount,
                GoodsNet = goods[i],
                Tax = line.Tax,
                Shipping = shipping[i],
                ShippingTax = shippingTax[i],
                ProcessingFee = processingShares[i],
                ChannelFee = channelShares[i],
                Rebate = rebateShares[i],
                Cost = fees.Cost(product, line.Quantity),
            };
        }
        return new OrderFigures
        {
            Lines = lines,
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

    /// <summary>The goods of the lines that need shipping, −1 for a line that is left out; of all lines when none does.</summary>
    internal static long[] ShippingWeights(Order order, IReadOnlyList<long> goodsNet)
    {
        var anyShipped = order.Lines.Any(l => l.RequiresShipping);
        var weights = new long[goodsNet.Count];
        for (var i = 0; i < weights.Length; i++) weights[i] = anyShipped && !order.Lines[i].RequiresShipping ? -1 : goodsNet[i];
        return weights;
    }

    /// <summary>Allocates over the lines that take part; the others get 0 even when all weights are 0.</summary>
    internal static long[] ShippingShares(long total, long[] weights)
    {
        var taking = weights.Where(w => w >= 0).ToArray();
        if (taking.Length == weights.Length) return Allocation.Allocate(total, weights);
        var shares = new Queue<long>(Allocation.Allocate(total, taking));
        return Array.ConvertAll(weights, w => w >= 0 ? shares.Dequeue() : 0);
    }
}
