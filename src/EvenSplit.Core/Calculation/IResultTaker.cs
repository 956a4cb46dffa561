namespace EvenSplit.Core;

/// <summary>Takes over what comes of a book while it is worked out, from one thread at a time, so that a large result need not be kept.</summary>
public interface IResultTaker
{
    /// <summary>Entries, in the order of their events.</summary>
    void Take(IReadOnlyList<Entry> entries);

    /// <summary>What an order comes to, each once: in the order they were paid, those without effect at the end.</summary>
    /// <param name="index">Its place among the orders of the facts, from 0.</param>
    void Take(int index, OrderResult order);
}

/// <summary>Keeps all of it.</summary>
internal sealed class KeptResults(int orders) : IResultTaker
{
    public OrderResult[] Orders { get; } = new OrderResult[orders];

    public List<Entry> Entries { get; } = new(orders * 2);

    public void Take(IReadOnlyList<Entry> entries) => Entries.AddRange(entries);

    public void Take(int index, OrderResult order) => Orders[index] = order;
}
