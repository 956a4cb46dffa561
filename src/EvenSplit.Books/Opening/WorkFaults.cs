using System.Collections.Concurrent;

namespace EvenSplit.Books;

/// <summary>A piece of background work that failed when it was last tried.</summary>
/// <param name="Work">What it does, in words.</param>
public sealed record WorkFault(string Work, DateTimeOffset Since, string Says);

/// <summary>What of the background work fails at present, so that somebody is told. One piece that fails keeps no other from its work.</summary>
public sealed class WorkFaults
{
    private readonly ConcurrentDictionary<string, WorkFault> _faults = [];

    public IReadOnlyList<WorkFault> Now => [.. _faults.Values.OrderBy(f => f.Since)];

    /// <returns>Whether it is new, and worth a line in the log.</returns>
    public bool Failed(string work, string says, DateTimeOffset at)
    {
        var isNew = !_faults.TryGetValue(work, out var known) || known.Says != says;
        if (isNew) _faults[work] = new WorkFault(work, at, says);
        return isNew;
    }

    public void Worked(string work) => _faults.TryRemove(work, out _);
}
