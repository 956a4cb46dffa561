using EvenSplit.Books.Model;
using EvenSplit.Core;

namespace EvenSplit.Books.Posting;

/// <summary>What an amount was posted for, within one order.</summary>
internal readonly record struct PostedKey(int LineNumber, string Payee, string Agreement, EntryPart Part, long? Refund, string Currency)
{
    public static PostedKey Of(EntryRecord entry) => new(entry.LineNumber, entry.Payee, entry.Agreement, entry.Part, entry.RefundId, entry.Currency);

    /// <summary>The entry that takes back all that was posted here.</summary>
    public EntryRecord Reversing(long orderKey, PostedAmount was, DateOnly today) => new()
    {
        OrderId = orderKey,
        LineNumber = LineNumber,
        Payee = Payee,
        Agreement = Agreement,
        Part = Part,
        RefundId = Refund,
        Amount = -was.Amount,
        Currency = Currency,
        PostedOn = today,
        Period = Period.Of(today).Number,
        ClearsOn = was.ClearsOn,
    };
}

/// <summary>What is posted for one thing in all, and its entries that no run has taken yet.</summary>
internal sealed record PostedAmount(long Amount, DateOnly? ClearsOn, IReadOnlyList<EntryRecord> Open)
{
    public static PostedAmount Nothing { get; } = new(0, null, []);

    /// <summary>By what they were posted for.</summary>
    public static Dictionary<PostedKey, PostedAmount> Of(IEnumerable<EntryRecord> entries)
    {
        var posted = new Dictionary<PostedKey, PostedAmount>();
        foreach (var entry in entries)
        {
            var key = PostedKey.Of(entry);
            var was = posted.GetValueOrDefault(key) ?? Nothing;
            posted[key] = new PostedAmount(was.Amount + entry.Amount, was.ClearsOn > entry.ClearsOn ? was.ClearsOn : entry.ClearsOn ?? was.ClearsOn, entry.RunId is null ? [.. was.Open, entry] : was.Open);
        }
        return posted;
    }
}

/// <summary>An order as it stands in the book, with everything its figures come of.</summary>
/// <param name="Counted">What it counts in the kept sums of its month; null where it counts nothing.</param>
internal sealed record HeldOrder(
    OrderRecord Record, Order Order, IReadOnlyList<(long Key, Refund Refund)> Refunds, IReadOnlyDictionary<PostedKey, PostedAmount> Posted, OrderCounts? Counted)
{
    /// <summary>Some orders, fetched in a handful of queries; not tracked.</summary>
    /// <returns>In the order of their keys.</returns>
    public static IReadOnlyList<HeldOrder> Of(BookDbContext db, IReadOnlyCollection<long> keys)
    {
        var lines = BulkReader<OrderLineRecord>.Read(db, "OrderId", keys, "OrderId, Number").ToLookup(l => l.OrderId);
        var codes = BulkReader<OrderCodeRecord>.Read(db, "OrderId", keys, "OrderId, Position").ToLookup(c => c.OrderId);
        var clicks = BulkReader<OrderClickRecord>.Read(db, "OrderId", keys, "OrderId, Position").ToLookup(c => c.OrderId);
        var refunds = RefundsOf(db, keys);
        var posted = BulkReader<EntryRecord>.Read(db, "OrderId", keys, "OrderId, Id").ToLookup(e => e.OrderId);
        return [.. BulkReader<OrderRecord>.Read(db, "Id", keys, "Id").Select(record =>
        {
            (record.Lines, record.Codes, record.Clicks) = ([.. lines[record.Id]], [.. codes[record.Id]], [.. clicks[record.Id]]);
            var order = OrderFacts.ToOrder(record);
            return new HeldOrder(
                record, order, [.. refunds[record.Id].Select(r => (r.Id, OrderFacts.ToRefund(r, order.Id)))],
                PostedAmount.Of(posted[record.Id]), TotalsChange.Of(record));
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
