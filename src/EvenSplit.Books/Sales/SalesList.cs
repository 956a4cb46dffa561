using System.Linq.Expressions;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Sales;

/// <remarks>Contested: a coupon code of one payee, a click of another. SelfReferral: whoever would have brought it is its buyer.</remarks>
public enum OrderKindFilter { Any, Paid, Unpaid, Exceptions, Refunded, Test, Contested, SelfReferral }

/// <summary>Which orders of a month to show.</summary>
/// <param name="BroughtBy">A payee's id, "nobody", or empty for anyone.</param>
/// <param name="After">Where the page before ended: placedAt in UTC ticks and the order's key.</param>
public sealed record SalesFilter(Period Period, OrderKindFilter Kind, string Channel, string BroughtBy, string Find, (long PlacedAt, long Id)? After)
{
    /// <summary>Another order than that of placing; null for that one.</summary>
    public SalesSorting? Sorting { get; init; }
}

/// <summary>What the list can be sorted by beside the time of placing.</summary>
public enum SalesColumn { Order, Channel, BroughtBy, Charged, Tax, Fees, Affiliates, Collaborators, Vendors, House }

/// <param name="Skip">How many rows come before the page.</param>
public sealed record SalesSorting(SalesColumn By, bool IsDescending, int Skip);

public sealed record SalesRow(
    string OrderId, DateTimeOffset PlacedAt, DateTimeOffset? PaidAt, string Channel, string? BroughtBy, OrderStatus Status, Currency Currency,
    long Charged, long Tax, long Fees, long Affiliates, long Collaborators, long Vendors, long House, int Exceptions);

public sealed record SalesTotals(Currency Currency, long Orders, long Charged, long Tax, long Fees, long Affiliates, long Collaborators, long Vendors, long House);

/// <summary>One page of the orders of a month, with the totals of all that match.</summary>
/// <param name="AreTooMany">Whether so many match a text that they are not added up.</param>
public sealed record SalesPage(IReadOnlyList<SalesRow> Rows, IReadOnlyList<SalesTotals> Totals, (long PlacedAt, long Id)? Next, IReadOnlyList<string> Channels, bool AreTooMany)
{
    /// <summary>Whether they are few enough to be sorted by any column.</summary>
    public bool CanSort { get; init; }
}

/// <summary>Lists the orders of a month, the earliest first, a page at a time.</summary>
public sealed class SalesList(BookDbContext db, BookCache cache) : IUseCase
{
    public const int PageSize = 100;

    /// <summary>More than so many are not sorted while somebody waits.</summary>
    public const int MostSorted = 20_000;

    public SalesPage Find(SalesFilter filter)
    {
        var book = cache.Get(db);
        var (matching, areTooMany) = Matching(filter);
        var totals = areTooMany ? [] : Totals(filter, matching);
        // Where those that count are too many already, the others need not be counted.
        var canSort = !areTooMany && totals.Sum(t => t.Orders) <= MostSorted && matching.OrderBy(o => o.PlacedAt).Select(o => o.Id).Take(MostSorted + 1).Count() <= MostSorted;
        var rows = (canSort && filter.Sorting is { } sorting ? Sorted(matching, sorting, book.Currency.Code) : Placed(matching, filter.After)).Take(PageSize + 1).ToArray();
        var last = rows.Length > PageSize ? rows[PageSize - 1] : null;
        return new SalesPage(
            rows.Take(PageSize).Select(o => new SalesRow(
                o.OrderId, o.PlacedAt, o.PaidAt, book.ChannelName(o.Channel), o.AttributedTo is { } payee ? book.PayeeName(payee) : null, o.Status,
                Currency.Of(o.Currency), o.Charged, o.Tax, o.ProcessingFee + o.ChannelFee - o.Rebate, o.Affiliates, o.Collaborators, o.Vendors, o.House, o.Exceptions)).ToArray(),
            totals,
            last is null ? null : (last.PlacedAt.UtcTicks, last.Id),
            book.ChannelNames.Keys.Order(StringComparer.Ordinal).ToArray(), areTooMany)
        {
            CanSort = canSort,
        };
    }

    private static IQueryable<OrderRecord> Placed(IQueryable<OrderRecord> matching, (long PlacedAt, long Id)? after)
    {
        if (after is not var (placed, id)) return matching.OrderBy(o => o.PlacedAt).ThenBy(o => o.Id);
        var at = new DateTimeOffset(placed, TimeSpan.Zero);
        return matching.Where(o => o.PlacedAt > at || (o.PlacedAt == at && o.Id > id)).OrderBy(o => o.PlacedAt).ThenBy(o => o.Id);
    }

    /// <summary>Amounts by currency, the book's own first: no figure is compared with one of another currency.</summary>
    private static IQueryable<OrderRecord> Sorted(IQueryable<OrderRecord> matching, SalesSorting sorting, string main)
    {
        var byCurrency = matching.OrderBy(o => o.Currency == main ? 0 : 1).ThenBy(o => o.Currency);
        var sorted = sorting.By switch
        {
            SalesColumn.Order => By(matching, o => o.OrderId),
            SalesColumn.Channel => By(matching, o => o.Channel),
            SalesColumn.BroughtBy => By(matching, o => o.AttributedTo),
            SalesColumn.Charged => Then(o => o.Charged),
            SalesColumn.Tax => Then(o => o.Tax),
            SalesColumn.Fees => Then(o => o.ProcessingFee + o.ChannelFee - o.Rebate),
            SalesColumn.Affiliates => Then(o => o.Affiliates),
            SalesColumn.Collaborators => Then(o => o.Collaborators),
            SalesColumn.Vendors => Then(o => o.Vendors),
            _ => Then(o => o.House),
        };
        return sorted.ThenBy(o => o.PlacedAt).ThenBy(o => o.Id).Skip(sorting.Skip);

        IOrderedQueryable<OrderRecord> By(IQueryable<OrderRecord> orders, Expression<Func<OrderRecord, string?>> column) => sorting.IsDescending ? orders.OrderByDescending(column) : orders.OrderBy(column);

        IOrderedQueryable<OrderRecord> Then(Expression<Func<OrderRecord, long>> column) => sorting.IsDescending ? byCurrency.ThenByDescending(column) : byCurrency.ThenBy(column);
    }

    private (IQueryable<OrderRecord> Orders, bool AreTooMany) Matching(SalesFilter filter)
    {
        var orders = db.Orders.AsNoTracking().Where(o => o.Period == filter.Period.Number);
        if (filter.Channel.Length > 0) orders = orders.Where(o => o.Channel == filter.Channel);
        if (filter.BroughtBy == "nobody") orders = orders.Where(o => o.AttributedTo == null && o.Status == OrderStatus.Calculated);
        else if (filter.BroughtBy.Length > 0) orders = orders.Where(o => o.AttributedTo == filter.BroughtBy);
        var areTooMany = false;
        if (filter.Find.Length > 0) (orders, areTooMany) = orders.Containing(db, filter.Find);
        return (filter.Kind switch
        {
            OrderKindFilter.Paid => orders.Where(o => o.Status == OrderStatus.Calculated),
            // Said twice, so that the index of those that do not count serves it.
            OrderKindFilter.Unpaid => orders.Where(o => o.Status != OrderStatus.Calculated && o.Status == OrderStatus.Unpaid),
            OrderKindFilter.Exceptions => orders.Where(o => o.Exceptions > 0),
            OrderKindFilter.Refunded => orders.Where(o => o.IsRefunded),
            OrderKindFilter.Contested => orders.Where(o => o.IsContested),
            OrderKindFilter.SelfReferral => orders.Where(o => db.OrderExceptions.Where(e => e.Code == ExceptionCode.SelfReferral && e.Period == filter.Period.Number).Select(e => e.OrderId).Contains(o.Id)),
            OrderKindFilter.Test => orders.Where(o => o.Status != OrderStatus.Calculated && o.Status == OrderStatus.Test),
            _ => orders,
        }, areTooMany);
    }

    /// <summary>The kept sums where the list is narrowed by what they are kept by; else the sums of what matches. Unpaid and test orders never count.</summary>
    private SalesTotals[] Totals(SalesFilter filter, IQueryable<OrderRecord> matching)
    {
        if (filter.Kind is OrderKindFilter.Unpaid or OrderKindFilter.Test) return [];
        var sums = filter is { Kind: OrderKindFilter.Any or OrderKindFilter.Paid or OrderKindFilter.Exceptions or OrderKindFilter.Refunded, Find: "" }
            ? Kept(filter).GroupBy(s => s.Currency).Select(g => new SumRow(
                g.Key, g.Sum(s => s.Orders), g.Sum(s => s.Charged), g.Sum(s => s.Tax), g.Sum(s => s.Fees), g.Sum(s => s.Affiliates), g.Sum(s => s.Collaborators), g.Sum(s => s.Vendors), g.Sum(s => s.House)))
            : matching.Where(o => o.Status == OrderStatus.Calculated).GroupBy(o => o.Currency).Select(g => new SumRow(
                g.Key, g.Count(), g.Sum(o => o.Charged), g.Sum(o => o.Tax), g.Sum(o => o.ProcessingFee + o.ChannelFee - o.Rebate), g.Sum(o => o.Affiliates), g.Sum(o => o.Collaborators), g.Sum(o => o.Vendors), g.Sum(o => o.House)));
        return sums.AsEnumerable().Where(t => t.Orders > 0).OrderBy(t => t.Currency, StringComparer.Ordinal)
            .Select(t => new SalesTotals(Currency.Of(t.Currency), t.Orders, t.Charged, t.Tax, t.Fees, t.Affiliates, t.Collaborators, t.Vendors, t.House))
            .ToArray();
    }

    private sealed record SumRow(string Currency, long Orders, long Charged, long Tax, long Fees, long Affiliates, long Collaborators, long Vendors, long House);

    private IQueryable<SalesSumRecord> Kept(SalesFilter filter)
    {
        var sums = db.SalesSums.AsNoTracking().Where(s => s.Period == filter.Period.Number);
        if (filter.Channel.Length > 0) sums = sums.Where(s => s.Channel == filter.Channel);
        if (filter.BroughtBy == "nobody") sums = sums.Where(s => s.BroughtBy == "");
        else if (filter.BroughtBy.Length > 0) sums = sums.Where(s => s.BroughtBy == filter.BroughtBy);
        return filter.Kind switch
        {
            OrderKindFilter.Exceptions => sums.Where(s => s.HasExceptions),
            OrderKindFilter.Refunded => sums.Where(s => s.IsRefunded),
            _ => sums,
        };
    }
}
