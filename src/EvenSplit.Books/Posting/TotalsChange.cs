using EvenSplit.Books.Model;
using EvenSplit.Core;

namespace EvenSplit.Books.Posting;

/// <summary>Collects what changes in the kept sums of the months and saves it at once.</summary>
internal sealed class TotalsChange
{
    private readonly Dictionary<(int Period, string Currency), PeriodTotalsRecord> _changes = [];

    public void Add(OrderRecord order) => Count(order, 1);

    public void Subtract(OrderRecord order) => Count(order, -1);

    public void Save(BookDbContext db)
    {
        foreach (var ((period, currency), change) in _changes)
        {
            var held = db.PeriodTotals.Find(period, currency);
            if (held is null) db.PeriodTotals.Add(change);
            else Move(held, change, 1);
        }
        db.SaveChanges();
        _changes.Clear();
    }

    private void Count(OrderRecord order, int sign)
    {
        if (order.Status != OrderStatus.Calculated) return;
        if (!_changes.TryGetValue((order.Period, order.Currency), out var change))
        {
            _changes[(order.Period, order.Currency)] = change = new PeriodTotalsRecord { Period = order.Period, Currency = order.Currency };
        }
        Move(change, new PeriodTotalsRecord
        {
            Currency = order.Currency,
            Orders = 1,
            GoodsNet = order.GoodsNet,
            Tax = order.Tax,
            ShippingNet = order.ShippingNet,
            Charged = order.Charged,
            ProcessingFee = order.ProcessingFee,
            ChannelFee = order.ChannelFee,
            Rebate = order.Rebate,
            Affiliates = order.Affiliates,
            Collaborators = order.Collaborators,
            Vendors = order.Vendors,
            House = order.House,
            ShippingKept = order.ShippingKept,
            WithExceptions = order.Exceptions > 0 ? 1 : 0,
        }, sign);
    }

    private static void Move(PeriodTotalsRecord sum, PeriodTotalsRecord by, int sign)
    {
        sum.Orders += sign * by.Orders;
        sum.GoodsNet += sign * by.GoodsNet;
        sum.Tax += sign * by.Tax;
        sum.ShippingNet += sign * by.ShippingNet;
        sum.Charged += sign * by.Charged;
        sum.ProcessingFee += sign * by.ProcessingFee;
        sum.ChannelFee += sign * by.ChannelFee;
        sum.Rebate += sign * by.Rebate;
        sum.Affiliates += sign * by.Affiliates;
        sum.Collaborators += sign * by.Collaborators;
        sum.Vendors += sign * by.Vendors;
        sum.House += sign * by.House;
        sum.ShippingKept += sign * by.ShippingKept;
        sum.WithExceptions += sign * by.WithExceptions;
    }
}
