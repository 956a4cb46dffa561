using EvenSplit.Books.Model;
using EvenSplit.Core;

namespace EvenSplit.Books.Posting;

/// <summary>What an order counts in the kept sums of its month, and in those a list of sales is narrowed to.</summary>
internal sealed record OrderCounts(PeriodTotalsRecord Month, SalesSumRecord Sales);

/// <summary>Collects what changes in the kept sums of sales and saves it at once.</summary>
internal sealed class TotalsChange
{
    private readonly Dictionary<(int Period, string Currency), PeriodTotalsRecord> _changes = [];
    private readonly Dictionary<(int Period, string BroughtBy, string Channel, string Currency, bool HasExceptions, bool IsRefunded), SalesSumRecord> _sales = [];

    /// <returns>Null where the order counts nothing.</returns>
    public static OrderCounts? Of(OrderRecord order) => order.Status != OrderStatus.Calculated ? null : new OrderCounts(MonthOf(order), SalesOf(order));

    private static SalesSumRecord SalesOf(OrderRecord order) => new()
    {
        Period = order.Period,
        Currency = order.Currency,
        Channel = order.Channel,
        BroughtBy = order.AttributedTo ?? "",
        HasExceptions = order.Exceptions > 0,
        IsRefunded = order.IsRefunded,
        Orders = 1,
        Charged = order.Charged,
        Tax = order.Tax,
        Fees = order.ProcessingFee + order.ChannelFee - order.Rebate,
        Affiliates = order.Affiliates,
        Collaborators = order.Collaborators,
        Vendors = order.Vendors,
        House = order.House,
    };

    private static PeriodTotalsRecord MonthOf(OrderRecord order) => new()
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
    public void Move(OrderCounts? before, OrderCounts? now)
    {
        if (before is not null) Count(before, -1);
        if (now is not null) Count(now, 1);
    }

    /// <summary>Adds it to what is kept, inside the caller's transaction.</summary>
    /// <param name="alongside">As <see cref="BulkWriter{T}.WriteAll"/> has it.</param>
    public void Save(BookDbContext db, bool alongside = false)
    {
        BulkWriter<PeriodTotalsRecord>.Adding(db).WriteAll([.. _changes.Values], alongside);
        BulkWriter<SalesSumRecord>.Adding(db).WriteAll([.. _sales.Values], alongside);
        _changes.Clear();
        _sales.Clear();
    }

    private void Count(OrderCounts counts, int sign)
    {
        var sales = counts.Sales;
        var key = (sales.Period, sales.BroughtBy, sales.Channel, sales.Currency, sales.HasExceptions, sales.IsRefunded);
        if (!_sales.TryGetValue(key, out var sum))
        {
            _sales[key] = sum = new SalesSumRecord
            {
                Period = sales.Period,
                BroughtBy = sales.BroughtBy,
                Channel = sales.Channel,
                Currency = sales.Currency,
                HasExceptions = sales.HasExceptions,
                IsRefunded = sales.IsRefunded,
            };
        }
        Add(sum, sales, sign);
        var order = counts.Month;
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

    internal static void Add(SalesSumRecord sum, SalesSumRecord by, int sign)
    {
        sum.Orders += sign * by.Orders;
        sum.Charged += sign * by.Charged;
        sum.Tax += sign * by.Tax;
        sum.Fees += sign * by.Fees;
        sum.Affiliates += sign * by.Affiliates;
        sum.Collaborators += sign * by.Collaborators;
        sum.Vendors += sign * by.Vendors;
        sum.House += sign * by.House;
    }
}
