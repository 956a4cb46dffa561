using EvenSplit.Books.Model;
using EvenSplit.Core;

namespace EvenSplit.Books.Posting;

/// <summary>An order as it stands in the book, with everything its figures come of.</summary>
/// <param name="Events">What it adds to tracks, as the book has it.</param>
/// <param name="Counted">What it counts in the kept sums of its month; null where it counts nothing.</param>
internal sealed record HeldOrder(
    OrderRecord Record, Order Order, IReadOnlyList<(long Key, Refund Refund)> Refunds, IReadOnlyDictionary<PostedKey, PostedAmount> Posted, IReadOnlyList<ProgressEventRecord> Events, OrderCounts? Counted)
{
    /// <summary>Some orders, fetched in a handful of queries; not tracked.</summary>
    /// <returns>In the order of their keys.</returns>
    public static IReadOnlyList<HeldOrder> Of(BookDbContext db, IReadOnlyCollection<long> keys)
    {
        var lines = BulkReader<OrderLineRecord>.Read(db, "OrderId", keys, "OrderId, Number").ToLookup(l => l.OrderId);
        var codes = BulkReader<OrderCodeRecord>.Read(db, "OrderId", keys, "OrderId, Position").ToLookup(c => c.OrderId);
        var clicks = BulkReader<OrderClickRecord>.Read(db, "OrderId", keys, "OrderId, Position").ToLookup(c => c.OrderId);
        var refunds = RefundsOf(db, keys);
        var posted = PostedAmount.Of(db, keys);
        var events = BulkReader<ProgressEventRecord>.Read(db, "OrderId", keys, "OrderId").ToLookup(e => e.OrderId);
        return [.. BulkReader<OrderRecord>.Read(db, "Id", keys, "Id").Select(record =>
        {
            (record.Lines, record.Codes, record.Clicks) = ([.. lines[record.Id]], [.. codes[record.Id]], [.. clicks[record.Id]]);
            var order = OrderFacts.ToOrder(record);
            return new HeldOrder(
                record, order, [.. refunds[record.Id].Select(r => (r.Id, OrderFacts.ToRefund(r, order.Id)))],
                posted.GetValueOrDefault(record.Id) ?? [], [.. events[record.Id]], TotalsChange.Of(record));
        })];
    }

    private static ILookup<long, RefundRecord> RefundsOf(BookDbContext db, IReadOnlyCollection<long> orders)
    {
        var refunds = BulkReader<RefundRecord>.Read(db, "OrderId", orders, "OrderId, Id").Where(r => r.WithdrawnAt is null).ToArray();
        var lines = BulkReader<RefundLineRecord>.Read(db, "RefundId", refunds.Select(r => r.Id), "RefundId, Position").ToLookup(l => l.RefundId);
        foreach (var refund in refunds) refund.Lines = [.. lines[refund.Id]];
        return refunds.ToLookup(r => r.OrderId);
    }
}
