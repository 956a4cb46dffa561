using System.Collections.Concurrent;

namespace EvenSplit.Books.Importing;

internal static class Batches
{
    /// <summary>Reads a stream on another thread, while what was read is dealt with. A fault of the stream is told after all that came before it.</summary>
    /// <param name="most">How many are read and not yet asked for.</param>
    public static IEnumerable<T> ReadAhead<T>(this IEnumerable<T> source, int most)
    {
        using var enough = new CancellationTokenSource();
        using var read = new BlockingCollection<T>(most);
        // A thread of its own: it waits most of the time, and those of the pool answer pages.
        var reading = Task.Factory.StartNew(Read, CancellationToken.None, TaskCreationOptions.LongRunning, TaskScheduler.Default);
        try
        {
            foreach (var one in read.GetConsumingEnumerable()) yield return one;
            reading.GetAwaiter().GetResult();
        }
        finally
        {
            // Whoever asks for no more may close the file.
            enough.Cancel();
            Task.WaitAny(reading);
        }

        void Read()
        {
            try
            {
                foreach (var one in source) read.Add(one, enough.Token);
            }
            finally
            {
                read.CompleteAdding();
            }
        }
    }

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
