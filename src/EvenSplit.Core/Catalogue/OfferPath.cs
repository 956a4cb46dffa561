namespace EvenSplit.Core;

/// <summary>One offer of a path, and the steps (by their place in it, from 0) that follow; null ends the path there.</summary>
public sealed record OfferStep(ProductId Product, int? OnAccept, int? OnDecline)
{
    /// <summary>The step that follows an answer.</summary>
    public int? After(bool accepted) => accepted ? OnAccept : OnDecline;
}

/// <summary>A first offer and the follow-on offers after it.</summary>
public sealed record OfferPath(string Id, string Name, IReadOnlyList<OfferStep> Steps)
{
    /// <summary>
    /// How many offers a buyer may see before each step: its column where the path is drawn. Null for a step that no answer leads to.
    /// </summary>
    /// <exception cref="InvalidOperationException">An answer leads back: such a path has no order.</exception>
    public IReadOnlyList<int?> Depths()
    {
        var depths = new int?[Steps.Count];
        var order = Enumerable.Range(0, Steps.Count).ToArray();
        if (Loop() is not null) throw new InvalidOperationException($"The path {Id} leads back to where it was.");
        if (depths.Length > 0) depths[0] = 0;
        // Each round reaches at least one step further; without a loop there are no more rounds than steps.
        foreach (var _ in order)
        {
            foreach (var i in order.Where(i => depths[i] is not null))
            {
                foreach (var next in Next(i)) depths[next] = Math.Max(depths[next] ?? 0, depths[i]!.Value + 1);
            }
        }
        return depths;
    }

    /// <summary>The first step from which some answers lead back to it; null where none does.</summary>
    public int? Loop()
    {
        for (var start = 0; start < Steps.Count; start++)
        {
            var seen = new HashSet<int>();
            var open = new Stack<int>(Next(start));
            while (open.TryPop(out var at))
            {
                if (at == start) return start;
                if (seen.Add(at)) foreach (var next in Next(at)) open.Push(next);
            }
        }
        return null;
    }

    private IEnumerable<int> Next(int step) => new[] { Steps[step].OnAccept, Steps[step].OnDecline }.OfType<int>().Distinct();
}
