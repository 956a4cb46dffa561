using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

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

    public static PostedAmount Of(IEnumerable<EntryRecord> entries)
    {
        var all = entries.ToArray();
        return new PostedAmount(all.Sum(e => e.Amount), all.Max(e => e.ClearsOn), all.Where(e => e.RunId is null).ToArray());
    }
}

/// <summary>An order as it stands in the book, with everything its figures come of.</summary>
/// <param name="Counted">What it counts in the kept sums of its month; null where it counts nothing.</param>
internal sealed record HeldOrder(
    OrderRecord Record, Order Order, IReadOnlyList<(long Key, Refund Refund)> Refunds, IReadOnlyDictionary<PostedKey, PostedAmount> Posted, PeriodTotalsRecord? Counted)
{
    /// <summary>Some orders, fetched in a handful of queries; tracked, so that new figures are saved.</summary>
    public static IReadOnlyList<HeldOrder> Of(BookDbContext db, IReadOnlyCollection<long> keys)
    {
        var orders = db.Orders.WithParts().Where(o => keys.Contains(o.Id)).OrderBy(o => o.Id).AsEnumerable()
            .Select(record => (Record: record, Order: OrderFacts.ToOrder(record))).ToArray();
        var ids = orders.ToDictionary(o => o.Record.Id, o => o.Order.Id);
        var refunds = db.Refunds.AsNoTracking().Include(r => r.Lines).Where(r => keys.Contains(r.OrderId)).AsEnumerable()
            .ToLookup(r => r.OrderId, r => (r.Id, OrderFacts.ToRefund(r, ids[r.OrderId])));
        var posted = db.Entries.AsNoTracking().Where(e => keys.Contains(e.OrderId)).AsEnumerable().ToLookup(e => e.OrderId);
        return orders.Select(o => new HeldOrder(
            o.Record, o.Order, refunds[o.Record.Id].ToArray(),
            posted[o.Record.Id].GroupBy(PostedKey.Of).ToDictionary(g => g.Key, PostedAmount.Of), TotalsChange.Of(o.Record))).ToArray();
    }
}
