using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Posting;

/// <summary>Finds the decision a renewal inherits: from the orders being worked out together, or from the order's row in the book.</summary>
internal sealed class OriginsInBook
{
    private readonly BookDbContext _db;
    private readonly Rulebook _rules;
    private readonly Dictionary<OrderId, Order> _batch;
    private readonly Dictionary<string, AttributionDecision?> _held;
    private readonly Dictionary<OrderId, AttributionDecision?> _decided = [];

    /// <param name="orders">As they are to be worked out, which may not be how the book has them.</param>
    public OriginsInBook(BookDbContext db, Rulebook rules, IReadOnlyCollection<Order> orders)
    {
        (_db, _rules) = (db, rules);
        _batch = orders.ToDictionary(o => o.Id);
        var wanted = orders.Where(o => o.Origin is { } origin && !_batch.ContainsKey(origin)).Select(o => o.Origin!.Value.Value).Distinct().ToArray();
        var held = Held(wanted);
        _held = wanted.ToDictionary(id => id, held.GetValueOrDefault);
    }

    /// <returns>Null where the order renews none, or its origin is a test, unpaid or not in the book.</returns>
    public AttributionDecision? Of(Order order)
    {
        if (order.Origin is not { } id) return null;
        if (!_batch.TryGetValue(id, out var origin)) return HeldOne(id.Value);
        if (origin.IsTest || origin.PaidAt is null) return null;
        if (_decided.TryGetValue(id, out var known)) return known;
        // Set before going on, so that an origin that leads back to itself counts as none instead of going round for ever.
        _decided[id] = null;
        return _decided[id] = Attributor.Decide(_rules, origin, Of(origin), new List<CalculationException>());
    }

    private AttributionDecision? HeldOne(string id)
    {
        if (!_held.TryGetValue(id, out var decision)) _held[id] = decision = Held([id]).GetValueOrDefault(id);
        return decision;
    }

    private Dictionary<string, AttributionDecision> Held(string[] ids) => ids.Length == 0 ? [] : _db.Orders.AsNoTracking()
        .Where(o => ids.Contains(o.OrderId) && o.Status == OrderStatus.Calculated)
        .Select(o => new { o.OrderId, o.AttributedTo, o.Via })
        .ToDictionary(o => o.OrderId, o => o.AttributedTo is null ? AttributionDecision.Nobody : new AttributionDecision(new PayeeId(o.AttributedTo), o.Via, []));
}
