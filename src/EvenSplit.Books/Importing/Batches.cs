namespace EvenSplit.Books.Importing;

internal static class Batches
{
    /// <summary>Cuts a stream into lists whose length is asked for anew before each.</summary>
    public static IEnumerable<IReadOnlyList<T>> InBatches<T>(this IEnumerable<T> source, Func<int> size)
    {
        var batch = new List<T>();
        var full = size();
        foreach (var one in source)
        {
            batch.Add(one);
            if (batch.Count < full) continue;
            yield return batch;
            (batch, full) = ([], size());
        }
        if (batch.Count > 0) yield return batch;
    }
}
