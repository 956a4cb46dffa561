using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Posting;

/// <summary>What an amount was posted for, within one order.</summary>
internal readonly record struct PostedKey(int LinePosition, string Payee, string Agreement, EntryPart Part, long? Refund, string Currency)
{
    public static PostedKey Of(EntryRecord entry) => new(entry.LinePosition, entry.Payee, entry.Agreement, entry.Part, entry.RefundId, entry.Currency);

    /// <summary>The entry that takes back all that was posted here.</summary>
    public EntryRecord Reversing(long id, long orderKey, PostedAmount was, DateOnly today) => new()
    {
        Id = id,
        OrderId = orderKey,
        LinePosition = LinePosition,
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

internal readonly record struct PostedAmount(long Amount, DateOnly? ClearsOn);

/// <summary>Some orders with everything the book holds about them, fetched in a handful of queries.</summary>
internal sealed class HeldOrders
{
    private readonly ILookup<long, (long Key, Refund Refund)> _refunds;
    private readonly Dictionary<long, Dictionary<PostedKey, PostedAmount>> _posted;

    public HeldOrders(BookDbContext db, IReadOnlyCollection<long> keys)
    {
        Orders = db.Orders.Include(o => o.Lines).Where(o => keys.Contains(o.Id)).OrderBy(o => o.Id).AsEnumerable()
            .Select(record => (record, OrderFacts.ToOrder(record))).ToArray();
        var ids = Orders.ToDictionary(o => o.Record.Id, o => o.Order.Id);
        _refunds = db.Refunds.AsNoTracking().Include(r => r.Lines).Where(r => keys.Contains(r.OrderId)).AsEnumerable()
            .ToLookup(r => r.OrderId, r => (r.Id, OrderFacts.ToRefund(r, ids[r.OrderId])));
        _posted = db.Entries.AsNoTracking().Where(e => keys.Contains(e.OrderId)).AsEnumerable()
            .GroupBy(e => e.OrderId)
            .ToDictionary(
                g => g.Key,
                g => g.GroupBy(PostedKey.Of).ToDictionary(s => s.Key, s => new PostedAmount(s.Sum(e => e.Amount), s.Max(e => e.ClearsOn))));
    }

    public IReadOnlyList<(OrderRecord Record, Order Order)> Orders { get; }

    public IEnumerable<(long Key, Refund Refund)> Refunds(long orderKey) => _refunds[orderKey];

    public IReadOnlyDictionary<PostedKey, PostedAmount> Posted(long orderKey) => _posted.GetValueOrDefault(orderKey) ?? [];
}
