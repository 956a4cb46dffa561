namespace EvenSplit.Core;

/// <summary>
/// Finds the decision a renewal inherits (contract, section 3): an order is seldom decided twice, chains of any length included. May be
/// asked from several threads.
/// </summary>
internal sealed class OriginAttribution(Rulebook rules, IReadOnlyList<Order> orders, Dictionary<string, int> indexes)
{
    // By the order's place. Whoever decides an order comes to the same, so that it does not matter who is first to note it.
    private readonly AttributionDecision?[] _decided = new AttributionDecision?[orders.Count];

    /// <returns>Null where the order renews none, or its origin is a test, unpaid or unknown.</returns>
    public AttributionDecision? Of(Order order)
    {
        var first = Counting(order.Origin);
        if (first < 0) return null;
        if (_decided[first] is { } known) return known;
        var chain = new Stack<int>();
        for (var origin = first; origin >= 0; origin = Counting(orders[origin].Origin))
        {
            chain.Push(origin);
            if (_decided[origin] is not null) break;
        }
        AttributionDecision? decision = null;
        foreach (var origin in chain)
        {
            // What is exceptional about the origin is reported where the origin itself is worked out.
            decision = _decided[origin] ??= Attributor.Decide(rules, orders[origin], decision, new List<CalculationException>());
        }
        return decision;
    }

    /// <returns>Where the order stands; below 0 where there is none that counts.</returns>
    private int Counting(OrderId? id) =>
        id is { } known && indexes.TryGetValue(known.Value, out var at) && orders[at] is { IsTest: false, PaidAt: not null } ? at : -1;
}
