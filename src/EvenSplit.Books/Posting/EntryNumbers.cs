using EvenSplit.Books.Model;

namespace EvenSplit.Books.Posting;

/// <summary>The keys of entries in one transaction, in which nobody else makes any: the last one is asked for once.</summary>
internal sealed class EntryNumbers(BookDbContext db)
{
    private long? _last;

    /// <summary>How many were taken.</summary>
    public long Taken { get; private set; }

    /// <returns>The key of the next entry; those after it are the caller's too.</returns>
    public long Take(int count)
    {
        var last = _last ?? db.Entries.Max(e => (long?)e.Id) ?? 0;
        (_last, Taken) = (last + count, Taken + count);
        return last + 1;
    }
}
