using EvenSplit.Books.Model;
using EvenSplit.Core;

namespace EvenSplit.Books.Posting;

/// <summary>Collects what changes in the kept sums of the months and saves it at once.</summary>
internal sealed class TotalsChange
{
    private readonly Dictionary<(int Period, string Currency), PeriodTotalsRecord> _changes = [];

    /// <summary>What an order counts in the sums of its month; null where it counts nothing.</summary>
    public static PeriodTotalsRecord? Of(OrderRecord order) => order.Status != OrderStatus.Calculated ? null : new PeriodTotalsRecord
    {
        Period = order.Period,
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
    };

    /// <summary>Puts what an order counts now in the place of what it counted before.</summary>
    public void Move(PeriodTotalsRecord? before, PeriodTotalsRecord? now)
    {
        if (before is not null) Count(before, -1);
        if (now is not null) Count(now, 1);
    }

    public void Save(BookDbContext db)
    {
        foreach (var ((period, currency), change) in _changes)
        {
            var held = db.PeriodTotals.Find(period, currency);
            if (held is null) db.PeriodTotals.Add(change);
            else Add(held, change, 1);
        }
        db.SaveChanges();
        _changes.Clear();
    }

    private void Count(PeriodTotalsRecord order, int sign)
    {
        if (!_changes.TryGetValue((order.Period, order.Currency), out var change))
        {
            _changes[(order.Period, order.Currency)] = change = new PeriodTotalsRecord { Period = order.Period, Currency = order.Currency };
        }
        Add(change, order, sign);
    }

    internal static void Add(PeriodTotalsRecord sum, PeriodTotalsRecord by, int sign)
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
