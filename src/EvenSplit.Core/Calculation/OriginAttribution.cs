using System.Collections.Concurrent;

namespace EvenSplit.Core;

/// <summary>
/// Finds the decision a renewal inherits (contract, section 3): an order is seldom decided twice, chains of any length included. May be
/// asked from several threads.
/// </summary>
internal sealed class OriginAttribution(Rulebook rules, IReadOnlyList<Order> orders, Dictionary<string, int> indexes)
{
    private readonly ConcurrentDictionary<string, AttributionDecision> _decided = [];

    /// <returns>Null where the order renews none, or its origin is a test, unpaid or unknown.</returns>
    public AttributionDecision? Of(Order order)
    {
        if (order.Origin is null || Counting(order.Origin) is not { } first) return null;
        if (_decided.TryGetValue(first.Id.Value, out var decision)) return decision;
        var chain = new Stack<Order>();
        for (var origin = first; origin is not null; origin = Counting(origin.Origin))
        {
            chain.Push(origin);
            if (_decided.ContainsKey(origin.Id.Value)) break;
        }
        foreach (var origin in chain)
        {
            if (!_decided.TryGetValue(origin.Id.Value, out var known))
            {
                // What is exceptional about the origin is reported where the origin itself is worked out.
                known = Attributor.Decide(rules, origin, decision, new List<CalculationException>());
                _decided[origin.Id.Value] = known;
            }
            decision = known;
        }
        return decision;
    }

    private Order? Counting(OrderId? id) =>
        id is { } known && indexes.TryGetValue(known.Value, out var at) && orders[at] is var origin && !origin.IsTest && origin.PaidAt is not null ? origin : null;
}
