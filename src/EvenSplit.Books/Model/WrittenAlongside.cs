namespace EvenSplit.Books.Model;

/// <summary>
/// Rows that another thread puts in on this connection, in its transaction, while this one goes on working things out. They give way between two rows to whatever else the
/// connection is asked for. Whoever needs them, or ends the transaction, waits first.
/// </summary>
internal sealed class WrittenAlongside
{
    private readonly Lock _turn = new();
    private int _waiting;
    private Task _writing = Task.CompletedTask;

    /// <param name="write">One row, which nothing reads without waiting.</param>
    /// <param name="atTheEnd">Whatever came of it.</param>
    public void Begin<T>(IReadOnlyCollection<T> rows, Action<T> write, Action atTheEnd)
    {
        Wait();
        _writing = Task.Run(() =>
        {
            try
            {
                foreach (var row in rows)
                {
                    var spinning = new SpinWait();
                    while (Volatile.Read(ref _waiting) > 0) spinning.SpinOnce();
                    lock (_turn) write(row);
                }
            }
            finally
            {
                atTheEnd();
            }
        });
    }

    /// <summary>Asks the connection for something in many steps, each of which would otherwise wait for a row.</summary>
    public Lock.Scope Between()
    {
        Interlocked.Increment(ref _waiting);
        var turn = _turn.EnterScope();
        Interlocked.Decrement(ref _waiting);
        return turn;
    }

    /// <summary>Returns once the rows are in.</summary>
    /// <exception cref="Microsoft.Data.Sqlite.SqliteException">The database refused one of them: the transaction is to be rolled back.</exception>
    /// <exception cref="InvalidOperationException">They wait for what this thread is in the midst of.</exception>
    public void Wait()
    {
        if (_turn.IsHeldByCurrentThread) throw new InvalidOperationException("Rows that are put in alongside wait for this very statement.");
        var writing = _writing;
        _writing = Task.CompletedTask;
        writing.GetAwaiter().GetResult();
    }

    /// <summary>Returns once nothing is written any more, before what was is rolled back.</summary>
    public void GiveUp()
    {
        ((IAsyncResult)_writing).AsyncWaitHandle.WaitOne();
        _writing = Task.CompletedTask;
    }
}
