using System.Runtime;

namespace EvenSplit.Calc;

/// <summary>
/// Memory for a command that reads one file, works it out and ends. Nearly all it allocates lives to the end, so that collecting
/// garbage on the way only copies it; the runtime is told not to while there is memory to spare.
/// </summary>
internal static class OnePassMemory
{
    // What reading, working out and writing allocate: so many bytes for each byte of the file, and what is needed for any file.
    // Not much more, or the runtime refuses for the largest files what would have done (docs/performance.md).
    private const long AllocatedPerByte = 9;
    private const long AllocatedAtLeast = 64 << 20;

    // Of what a million orders take, most of which stays: from here on collecting costs less than the memory it saves.
    private const long AtMost = 1100L << 20;

    /// <summary>
    /// Puts collecting off until the work is likely done; for large files, until so much is allocated. Where two thirds of the machine's memory would
    /// not do, collects as usual.
    /// </summary>
    /// <param name="fileLength">Length of the file in bytes.</param>
    /// <returns>Whether collecting is put off.</returns>
    public static bool Reserve(long fileLength)
    {
        var wanted = Math.Min(fileLength * AllocatedPerByte + AllocatedAtLeast, AtMost);
        if (wanted > GC.GetGCMemoryInfo().TotalAvailableMemoryBytes / 3 * 2) return false;
        try
        {
            return GC.TryStartNoGCRegion(wanted);
        }
        catch (ArgumentOutOfRangeException)
        {
            // More than the runtime can set apart at once.
            return false;
        }
    }

    /// <summary>
    /// To be said when the file is read. What is read stays to the end: where not all that follows can be set apart, it is moved at once to where the runtime
    /// keeps what is old, which takes two rounds. Later it would be looked through as often, with what has become garbage beside it, and copied.
    /// </summary>
    /// <param name="fileLength">As for <see cref="Reserve"/>.</param>
    public static void KeepWhatIsRead(long fileLength)
    {
        if (fileLength * AllocatedPerByte + AllocatedAtLeast <= AtMost) return;
        if (GCSettings.LatencyMode == GCLatencyMode.NoGCRegion) GC.EndNoGCRegion();
        for (var round = 0; round < 2; round++) GC.Collect(GC.MaxGeneration, GCCollectionMode.Forced, blocking: true, compacting: false);
    }
}
