using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Sales;

/// <remarks>Contested: a coupon code of one payee, a click of another. SelfReferral: whoever would have brought it is its buyer.</remarks>
public enum OrderKindFilter { Any, Paid, Unpaid, Exceptions, Refunded, Test, Contested, SelfReferral }

/// <summary>Which orders of a month to show.</summary>
/// <param name="BroughtBy">A payee's id, "nobody", or empty for anyone.</param>
/// <param name="After">Where the page before ended: placedAt in UTC ticks and the order's key.</param>
public sealed record SalesFilter(Period Period, OrderKindFilter Kind, string Channel, string BroughtBy, string Find, (long PlacedAt, long Id)? After);

public sealed record SalesRow(
    string OrderId, DateTimeOffset PlacedAt, DateTimeOffset? PaidAt, string Channel, string? BroughtBy, OrderStatus Status, Currency Currency,
    long Charged, long Tax, long Fees, long Affiliates, long Collaborators, long Vendors, long House, int Exceptions);

public sealed record SalesTotals(Currency Currency, long Orders, long Charged, long Tax, long Fees, long Affiliates, long Collaborators, long Vendors, long House);

/// <summary>One page of the orders of a month, with the totals of all that match.</summary>
public sealed record SalesPage(IReadOnlyList<SalesRow> Rows, IReadOnlyList<SalesTotals> Totals, (long PlacedAt, long Id)? Next, IReadOnlyList<string> Channels);

/// <summary>Lists the orders of a month, the earliest first, a page at a time.</summary>
public sealed class SalesList(BookDbContext db, BookCache cache) : IUseCase
{
    public const int PageSize = 100;

    public SalesPage Find(SalesFilter filter)
    {
        var book = cache.Get(db);
        var matching = Matching(filter);
        var page = matching;
        if (filter.After is { } after)
        {
            var at = new DateTimeOffset(after.PlacedAt, TimeSpan.Zero);
            page = page.Where(o => o.PlacedAt > at || (o.PlacedAt == at && o.Id > after.Id));
        }
        var rows = page.OrderBy(o => o.PlacedAt).ThenBy(o => o.Id).Take(PageSize + 1).ToArray();
        var last = rows.Length > PageSize ? rows[PageSize - 1] : null;
        return new SalesPage(
            rows.Take(PageSize).Select(o => new SalesRow(
                o.OrderId, o.PlacedAt, o.PaidAt, book.ChannelName(o.Channel), o.AttributedTo is { } payee ? book.PayeeName(payee) : null, o.Status,
                Currency.Of(o.Currency), o.Charged, o.Tax, o.ProcessingFee + o.ChannelFee - o.Rebate, o.Affiliates, o.Collaborators, o.Vendors, o.House, o.Exceptions)).ToArray(),
            Totals(filter, matching),
            last is null ? null : (last.PlacedAt.UtcTicks, last.Id),
            book.ChannelNames.Keys.Order(StringComparer.Ordinal).ToArray());
    }

    private IQueryable<OrderRecord> Matching(SalesFilter filter)
    {
        var orders = db.Orders.AsNoTracking().Where(o => o.Period == filter.Period.Number);
        if (filter.Channel.Length > 0) orders = orders.Where(o => o.Channel == filter.Channel);
        if (filter.BroughtBy == "nobody") orders = orders.Where(o => o.AttributedTo == null && o.Status == OrderStatus.Calculated);
        else if (filter.BroughtBy.Length > 0) orders = orders.Where(o => o.AttributedTo == filter.BroughtBy);
        if (filter.Find.Length > 0) orders = orders.Where(o => o.OrderId.Contains(filter.Find) || o.Codes.Any(c => c.Code.Contains(filter.Find)));
        return filter.Kind switch
        {
            OrderKindFilter.Paid => orders.Where(o => o.Status == OrderStatus.Calculated),
            OrderKindFilter.Unpaid => orders.Where(o => o.Status == OrderStatus.Unpaid),
            OrderKindFilter.Exceptions => orders.Where(o => o.Exceptions > 0),
            OrderKindFilter.Refunded => orders.Where(o => db.Refunds.Any(r => r.OrderId == o.Id)),
            OrderKindFilter.Contested => orders.Where(o => db.OrderClicks.Where(click => db.OrderCodes.Any(code => code.OrderId == click.OrderId && db.PayeeCodes.Any(owned => owned.Code == code.Code && owned.PayeeId != click.Payee)))
                .Select(click => click.OrderId).Contains(o.Id)),
            OrderKindFilter.SelfReferral => orders.Where(o => db.OrderExceptions.Where(e => e.Code == ExceptionCode.SelfReferral).Select(e => e.OrderId).Contains(o.Id)),
            OrderKindFilter.Test => orders.Where(o => o.Status == OrderStatus.Test),
            _ => orders,
        };
    }

    /// <summary>The kept sums where all paid orders match; else the sums of what does. Unpaid and test orders never count.</summary>
    private SalesTotals[] Totals(SalesFilter filter, IQueryable<OrderRecord> matching)
    {
        var isWholeMonth = filter is { Kind: OrderKindFilter.Any or OrderKindFilter.Paid, Channel: "", BroughtBy: "", Find: "" };
        var sums = isWholeMonth
            ? db.PeriodTotals.AsNoTracking().Where(t => t.Period == filter.Period.Number)
                .Select(t => new { t.Currency, t.Orders, t.Charged, t.Tax, Fees = t.ProcessingFee + t.ChannelFee - t.Rebate, t.Affiliates, t.Collaborators, t.Vendors, t.House })
            : matching.Where(o => o.Status == OrderStatus.Calculated).GroupBy(o => o.Currency).Select(g => new
            {
                Currency = g.Key,
                Orders = (long)g.Count(),
                Charged = g.Sum(o => o.Charged),
                Tax = g.Sum(o => o.Tax),
                Fees = g.Sum(o => o.ProcessingFee + o.ChannelFee - o.Rebate),
                Affiliates = g.Sum(o => o.Affiliates),
                Collaborators = g.Sum(o => o.Collaborators),
                Vendors = g.Sum(o => o.Vendors),
                House = g.Sum(o => o.House),
            });
        return sums.AsEnumerable().Where(t => t.Orders > 0).OrderBy(t => t.Currency, StringComparer.Ordinal)
            .Select(t => new SalesTotals(Currency.Of(t.Currency), t.Orders, t.Charged, t.Tax, t.Fees, t.Affiliates, t.Collaborators, t.Vendors, t.House))
            .ToArray();
    }
}
