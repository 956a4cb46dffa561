namespace EvenSplit.Books.Model;

/// <summary>
/// Rows that another thread puts in on this connection, in its transaction, while this one goes on working things out. They go in in the order in which they were handed over,
/// and give way between two rows to whatever else the connection is asked for. A statement that names a table waits until what was handed over for that table is in.
/// </summary>
internal sealed class WrittenAlongside
{
    /// <summary>About as many as two portions of work hand over: whoever comes to write waits until they are in.</summary>
    private const int MostWaiting = 24;

    private readonly Lock _turn = new();
    private readonly Lock _handing = new();
    private readonly SemaphoreSlim _room = new(MostWaiting);
    private readonly Queue<Task> _waitingRows = [];
    /// <summary>By each name that its rows are read under, what was last handed over for a table.</summary>
    private readonly Dictionary<string, Task> _named = [];
    private int _asking;
    private Task _last = Task.CompletedTask;

    /// <summary>Hands rows over; where too much waits to go in, it waits until there is less. After a row that is refused none goes in any more.</summary>
    /// <param name="names">Of the table the rows go into, and of a view of it: by them statements tell whether they have to wait.</param>
    /// <param name="write">One row.</param>
    /// <param name="atTheEnd">Whatever came of it.</param>
    public void Begin<T>(IReadOnlyCollection<string> names, IReadOnlyCollection<T> rows, Action<T> write, Action atTheEnd)
    {
        _room.Wait();
        lock (_handing)
        {
            var before = _last;
            var step = new Task(() =>
            {
                try
                {
                    before.GetAwaiter().GetResult();
                    foreach (var row in rows) GivingWay(write, row);
                }
                finally
                {
                    atTheEnd();
                }
            });
            _last = step;
            foreach (var name in names) _named[name] = step;
            _waitingRows.Enqueue(step);
            // A thread of its own: those of the pool may all be waiting for it.
            if (_waitingRows.Count == 1) new Thread(WriteAll) { IsBackground = true, Name = "Rows alongside" }.Start();
        }
    }

    /// <summary>Asks the connection for something in many steps, each of which would otherwise wait for a row.</summary>
    public Lock.Scope Between()
    {
        Interlocked.Increment(ref _asking);
        var turn = _turn.EnterScope();
        Interlocked.Decrement(ref _asking);
        return turn;
    }

    /// <summary>Returns once all rows are in.</summary>
    /// <exception cref="Microsoft.Data.Sqlite.SqliteException">The database refused one of them: the transaction is to be rolled back. It is told once.</exception>
    /// <exception cref="InvalidOperationException">They wait for what this thread is in the midst of.</exception>
    public void Wait()
    {
        Task last;
        lock (_handing)
        {
            last = _last;
            _last = Task.CompletedTask;
            _named.Clear();
        }
        WaitFor(last);
    }

    /// <summary>Returns once the rows of the tables are in that a statement names.</summary>
    /// <exception cref="Microsoft.Data.Sqlite.SqliteException">As of <see cref="Wait"/>.</exception>
    /// <exception cref="InvalidOperationException">As of <see cref="Wait"/>.</exception>
    public void WaitFor(string sql)
    {
        Task[] named;
        lock (_handing) named = _named.Count == 0 ? [] : [.. _named.Where(t => !t.Value.IsCompletedSuccessfully && Names(sql, t.Key)).Select(t => t.Value)];
        foreach (var step in named) WaitFor(step);
    }

    /// <summary>Returns once nothing is written any more, before what was is rolled back.</summary>
    public void GiveUp()
    {
        try
        {
            Wait();
        }
        catch (Exception)
        {
            // Whoever gives up has been told why, or has another reason.
        }
    }

    private void WriteAll()
    {
        for (var more = true; more;)
        {
            Task next;
            lock (_handing) next = _waitingRows.Peek();
            // Faults stay with it.
            next.RunSynchronously(TaskScheduler.Default);
            lock (_handing)
            {
                _waitingRows.Dequeue();
                more = _waitingRows.Count > 0;
            }
            _room.Release();
        }
    }

    private void GivingWay<T>(Action<T> write, T row)
    {
        var spinning = new SpinWait();
        while (Volatile.Read(ref _asking) > 0) spinning.SpinOnce();
        lock (_turn) write(row);
    }

    private void WaitFor(Task step)
    {
        if (_turn.IsHeldByCurrentThread) throw new InvalidOperationException("Rows that are put in alongside wait for this very statement.");
        step.GetAwaiter().GetResult();
    }

    /// <summary>Whether a word of the statement is the table's name. A column of that name makes it wait for nothing, which does no harm.</summary>
    private static bool Names(string sql, string table)
    {
        for (var at = sql.IndexOf(table, StringComparison.OrdinalIgnoreCase); at >= 0; at = sql.IndexOf(table, at + 1, StringComparison.OrdinalIgnoreCase))
        {
            if (!IsOfName(sql, at - 1) && !IsOfName(sql, at + table.Length)) return true;
        }
        return false;
    }

    private static bool IsOfName(string sql, int at) => at >= 0 && at < sql.Length && (char.IsLetterOrDigit(sql[at]) || sql[at] == '_');
}
