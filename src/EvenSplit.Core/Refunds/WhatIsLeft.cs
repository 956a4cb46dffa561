namespace EvenSplit.Core;

/// <summary>What refunds have left of an order (contract, section 7). Takes refunds one by one, in the order of their instants, then ids.</summary>
internal sealed class WhatIsLeft
{
    private readonly Rulebook _rules;
    private readonly Order _order;
    private readonly OrderFigures _sale;
    private readonly long[] _goods;
    private readonly long[] _tax;
    private readonly long[] _quantity;
    private readonly long[] _saleGoods;
    private long _shipping;
    private long _shippingTax;
    private long _feesReturned;
    private long _disputeFees;

    public WhatIsLeft(Rulebook rules, Order order, OrderFigures sale)
    {
        (_rules, _order, _sale) = (rules, order, sale);
        var count = sale.LineSpan.Length;
        (_goods, _tax, _quantity, _saleGoods) = (new long[count], new long[count], new long[count], new long[count]);
        for (var i = 0; i < count; i++)
        {
            ref readonly var line = ref sale.LineSpan[i];
            (_goods[i], _tax[i], _quantity[i], _saleGoods[i]) = (line.GoodsNet, line.Tax, line.Line.Quantity, line.GoodsNet);
        }
        (_shipping, _shippingTax) = (sale.ShippingNet, sale.ShippingTax);
    }

    /// <summary>What of the charged sum was not given back: goods, shipping and the taxes on both.</summary>
    public long MoneyLeft => GoodsLeft + TaxLeft + _shipping;

    public long GoodsLeft => _goods.Sum();

    /// <summary>Of goods and of shipping.</summary>
    public long TaxLeft => _tax.Sum() + _shippingTax;

    /// <summary>Net.</summary>
    public long ShippingLeft => _shipping;

    /// <summary>What of the processing fee the processor has given back.</summary>
    public long FeesReturned => _feesReturned;

    /// <summary>True once every line's f is 0.</summary>
    public bool NothingLeft => NoLineLeft();

    /// <summary>Takes a refund off; returns the goods it took per line, and whether it asked for more than was left (the part beyond is dropped).</summary>
    public (long[] GoodsTaken, bool Exceeded) Take(Refund refund)
    {
        var taken = (long[])_goods.Clone();
        var exceeded = false;
        if (refund.Kind == RefundKind.Cancel)
        {
            Array.Clear(_goods);
            Array.Clear(_tax);
            Array.Clear(_quantity);
            (_shipping, _shippingTax) = (0, 0);
        }
        else
        {
            foreach (var line in refund.Lines)
            {
                var i = LineIndex(line.Line);
                _goods[i] -= UpTo(line.Goods, _goods[i], ref exceeded);
                _tax[i] -= UpTo(line.Tax, _tax[i], ref exceeded);
                _quantity[i] -= UpTo(line.Quantity, _quantity[i], ref exceeded);
            }
            _shipping -= UpTo(refund.Shipping, _shipping, ref exceeded);
            _shippingTax -= UpTo(refund.ShippingTax, _shippingTax, ref exceeded);
        }
        _feesReturned += UpTo(refund.ProcessingFeeReturned, _sale.ProcessingFee - _feesReturned, ref exceeded);
        _disputeFees += refund.DisputeFee;
        for (var i = 0; i < taken.Length; i++) taken[i] -= _goods[i];
        return (taken, exceeded);
    }

    /// <param name="exceptions">Receives <c>rate-missing</c> where the cost of what is left cannot be converted.</param>
    public OrderState State(ICollection<CalculationException> exceptions)
    {
        var count = _goods.Length;
        Span<long> columns = count <= OrderWaterfall.FewLines ? stackalloc long[count * 4] : new long[count * 4];
        var room = columns[..count];
        var shipping = columns.Slice(count, count);
        var shippingTax = columns.Slice(count * 2, count);
        var processing = columns.Slice(count * 3, count);
        OrderWaterfall.ShippingShares(_order, _shipping, _saleGoods, room, shipping);
        OrderWaterfall.ShippingShares(_order, _shippingTax, _saleGoods, room, shippingTax);
        Allocation.Allocate(_sale.ProcessingFee - _feesReturned + _disputeFees, _saleGoods, [], processing);
        var fees = new FeeSchedules(_rules, _order, exceptions);
        var lines = OrderState.Room(count);
        for (var i = 0; i < count; i++)
        {
            ref readonly var sale = ref _sale.LineSpan[i];
            var (left, outOf) = LeftOf(i);
            lines[i] = new LineState
            {
                Goods = _goods[i],
                Tax = _tax[i],
                Quantity = _quantity[i],
                Shipping = shipping[i],
                ShippingTax = shippingTax[i],
                RebateToPass = (sale.Rebate * new Fraction(left, outOf)).Round(),
                Cost = fees.Cost(sale.Product, _quantity[i]),
                ProcessingFeeIfShared = processing[i],
                AtSale = sale,
                LeftOf = left,
                LeftOutOf = outOf,
            };
        }
        return new OrderState(lines, afterRefund: true, NothingLeft);
    }

    /// <summary><c>f</c>: the fraction of the line that is left.</summary>
    private (long Left, long OutOf) LeftOf(int i) => _saleGoods[i] != 0
        ? (_goods[i], _saleGoods[i])
        : (_quantity[i], _sale.LineSpan[i].Line.Quantity);

    private bool NoLineLeft()
    {
        for (var i = 0; i < _goods.Length; i++)
        {
            if (LeftOf(i).Left != 0) return false;
        }
        return true;
    }

    private int LineIndex(LineId id)
    {
        for (var i = 0; i < _order.LineSpan.Length; i++)
        {
            if (_order.LineSpan[i].Id == id) return i;
        }
        throw new ArgumentException($"Order {_order.Id} has no line {id}.", nameof(id));
    }

    private static long UpTo(long asked, long left, ref bool exceeded)
    {
        if (asked <= left) return asked;
        exceeded = true;
        return left;
    }
}
