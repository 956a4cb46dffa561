using System.Collections.Concurrent;
using EvenSplit.Core;

namespace EvenSplit.Formats.Scenarios;

/// <summary>Faults of orders. There may be a million of them, so a place is put into words only once something is wrong there.</summary>
internal static class OrderChecks
{
    /// <param name="documents">Those the orders were made of; null where they were read straight, which only takes words there are.</param>
    /// <returns>Where each order stands.</returns>
    public static Dictionary<string, int> Check(Order[] orders, IReadOnlyList<OrderDocument>? documents, DeclaredIds ids, FaultList faults)
    {
        // Most files have no fault; which one a faulty file has is told in the order of the file.
        var sound = documents is null && AreSound(orders, ids);
        var indexes = new Dictionary<string, int>(orders.Length);
        for (var i = 0; i < orders.Length; i++)
        {
            if (!indexes.TryAdd(orders[i].Id.Value, i)) faults.TwiceAt($"$.orders[{i}].id", "order", orders[i].Id.Value);
            if (documents is not null) WordsOf(documents[i], i, faults);
            if (!sound) Order(orders[i], i, ids, faults);
        }
        Origins(orders, indexes, faults);
        return indexes;
    }

    private static bool AreSound(Order[] orders, DeclaredIds ids) => orders.Length == 0 || Parallel.ForEach(Partitioner.Create(0, orders.Length), (range, loop) =>
    {
        var faults = new List<SalesFault>();
        for (var i = range.Item1; i < range.Item2; i++) OrderCheck.Check(orders[i], ids, faults);
        if (faults.Count > 0) loop.Stop();
    }).IsCompleted;

    private static void WordsOf(OrderDocument order, int i, FaultList faults)
    {
        faults.CurrencyAt($"$.orders[{i}].currency", order.Currency);
        faults.WordAt<CustomerKind>($"$.orders[{i}].customer", order.Customer);
    }

    private static void Order(Order order, int i, DeclaredIds ids, FaultList faults)
    {
        var found = new List<SalesFault>();
        OrderCheck.Check(order, ids, found);
        foreach (var fault in found) faults.SaleAt($"$.orders[{i}]", fault);
    }

    /// <summary>Every chain of origins is walked once; one that comes back to where it has been is a fault, told at its first order.</summary>
    private static void Origins(Order[] orders, Dictionary<string, int> indexes, FaultList faults)
    {
        var walkOf = new int[orders.Length];
        for (var start = 0; start < orders.Length; start++)
        {
            var at = start;
            while (walkOf[at] == 0)
            {
                walkOf[at] = start + 1;
                if (orders[at].Origin is not { } origin || !indexes.TryGetValue(origin.Value, out var next)) break;
                if (walkOf[next] == start + 1) faults.Add($"$.orders[{next}].originOrderId", $"the origin of order '{orders[next].Id}' leads back to itself.");
                at = next;
            }
        }
    }
}
