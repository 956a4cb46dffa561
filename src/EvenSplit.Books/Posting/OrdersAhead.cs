using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Posting;

/// <summary>
/// Reads the orders of the next portion on a connection of its own, while those of this one are worked out and written. Whatever was written since it was read is read
/// again, so that what is taken is what the book has.
/// </summary>
internal sealed class OrdersAhead(IDbContextFactory<BookDbContext> contexts) : IDisposable
{
    private readonly BookDbContext _db = contexts.CreateDbContext();
    /// <summary>What is read and was not taken yet.</summary>
    private readonly Dictionary<long, HeldOrder> _read = [];
    /// <summary>Orders that were written while others were being read.</summary>
    private readonly HashSet<long> _written = [];
    private Task<IReadOnlyList<HeldOrder>> _reading = Task.FromResult<IReadOnlyList<HeldOrder>>([]);
    private long _version;

    /// <param name="keys">Of the orders that come next, of which those are read that are not yet.</param>
    /// <param name="version">Of the database as the connection sees it that has the turn to write: as long as it stays the same, nobody else has written.</param>
    /// <param name="isNewTurn">Whether nothing has been written in this turn yet: what was written before it is found by reading.</param>
    public void Begin(IEnumerable<long> keys, long version, bool isNewTurn)
    {
        if (isNewTurn) _written.Clear();
        _version = version;
        long[] wanted = [.. keys.Where(k => !_read.ContainsKey(k) && !_written.Contains(k))];
        if (wanted.Length > 0) _reading = Task.Run(() => HeldOrder.Of(_db, wanted));
    }

    /// <summary>Returns once nothing is being read.</summary>
    public void Finish() => Task.WaitAny(_reading);

    /// <summary>Says which orders were written in this turn.</summary>
    public void Written(IReadOnlyCollection<long> keys)
    {
        _written.UnionWith(keys);
        foreach (var key in keys) _read.Remove(key);
    }

    /// <summary>Forgets what is read, when the turn came to nothing.</summary>
    public void Forget() => _version = -1;

    /// <param name="db">Has the turn to write; reads what was not read ahead.</param>
    /// <returns>In the order of their keys.</returns>
    public IReadOnlyList<HeldOrder> Take(BookDbContext db, IReadOnlyCollection<long> keys, long version)
    {
        foreach (var order in Reading().Where(o => !_written.Contains(o.Record.Id))) _read[order.Record.Id] = order;
        if (version != _version) _read.Clear();
        var orders = new List<HeldOrder>();
        var unread = new List<long>();
        foreach (var key in keys)
        {
            if (_read.Remove(key, out var order)) orders.Add(order);
            else unread.Add(key);
        }
        return [.. orders.Concat(unread.Count == 0 ? [] : HeldOrder.Of(db, unread)).OrderBy(o => o.Record.Id)];
    }

    public void Dispose()
    {
        Reading();
        _db.Dispose();
    }

    /// <summary>What could not be read ahead is read again, and its fault told then.</summary>
    private IReadOnlyList<HeldOrder> Reading()
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
