using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Posting;

/// <summary>
/// Reads the orders of the next portion on a connection of its own, while those of this one are worked out and written. Whatever was written since it began is read
/// again, so that what is taken is what the book has.
/// </summary>
internal sealed class OrdersAhead(IDbContextFactory<BookDbContext> contexts) : IDisposable
{
    private readonly BookDbContext _db = contexts.CreateDbContext();
    private readonly HashSet<long> _written = [];
    private Task<IReadOnlyList<HeldOrder>> _reading = Task.FromResult<IReadOnlyList<HeldOrder>>([]);
    private long _version;

    /// <param name="version">Of the database as the connection sees it that has the turn to write: as long as it stays the same, nobody else has written.</param>
    /// <param name="isNewTurn">Whether nothing has been written in this turn yet: what was written before it is found by reading.</param>
    public void Begin(IReadOnlyCollection<long> keys, long version, bool isNewTurn)
    {
        if (isNewTurn) _written.Clear();
        _version = version;
        _reading = Task.Run(() => HeldOrder.Of(_db, keys));
    }

    /// <summary>Says which orders were written in this turn.</summary>
    public void Written(IEnumerable<long> keys) => _written.UnionWith(keys);

    /// <summary>Forgets what is read, when the turn came to nothing.</summary>
    public void Forget() => _version = -1;

    /// <param name="db">Has the turn to write; reads what was not read ahead.</param>
    /// <returns>In the order of their keys.</returns>
    public IReadOnlyList<HeldOrder> Take(BookDbContext db, IReadOnlyCollection<long> keys, long version)
    {
        var wanted = keys.ToHashSet();
        HeldOrder[] ahead = [.. Read().Where(o => version == _version && wanted.Contains(o.Record.Id) && !_written.Contains(o.Record.Id))];
        wanted.ExceptWith(ahead.Select(o => o.Record.Id));
        return wanted.Count == 0 ? ahead : [.. ahead.Concat(HeldOrder.Of(db, wanted)).OrderBy(o => o.Record.Id)];
    }

    public void Dispose()
    {
        Read();
        _db.Dispose();
    }

    /// <summary>What could not be read ahead is read again, and its fault told then.</summary>
    private IReadOnlyList<HeldOrder> Read()
    {
        try
        {
            return _reading.GetAwaiter().GetResult();
        }
        catch (Exception)
        {
            return [];
        }
        finally
        {
            _reading = Task.FromResult<IReadOnlyList<HeldOrder>>([]);
        }
    }
}
