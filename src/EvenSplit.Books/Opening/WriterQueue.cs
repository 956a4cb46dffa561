using System.Data.Common;
using System.Runtime.CompilerServices;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Diagnostics;

namespace EvenSplit.Books;

/// <summary>
/// Lets one writer of this process into the book at a time, in the order in which they came: the database itself lets in whoever happens to ask first
/// after it is free, so that somebody's small change would wait behind many batches of an import. Long work looks whether somebody waits and lets them in.
/// </summary>
public sealed class WriterQueue
{
    /// <summary>As long as the database would wait for another process.</summary>
    private static readonly TimeSpan Longest = TimeSpan.FromSeconds(30);

    private readonly Lock _turns = new();
    private readonly LinkedList<SemaphoreSlim> _waiting = [];
    private bool _isTaken;

    /// <summary>Whether somebody writes.</summary>
    public bool IsTaken
    {
        get
        {
            lock (_turns) return _isTaken;
        }
    }

    /// <summary>How many wait for their turn.</summary>
    public int Waiting
    {
        get
        {
            lock (_turns) return _waiting.Count;
        }
    }

    /// <summary>Returns when it is the caller's turn.</summary>
    /// <exception cref="SqliteException">Busy: it did not come within half a minute.</exception>
    public void Enter()
    {
        LinkedListNode<SemaphoreSlim> place;
        lock (_turns)
        {
            if (!_isTaken)
            {
                _isTaken = true;
                return;
            }
            place = _waiting.AddLast(new SemaphoreSlim(0, 1));
        }
        if (place.Value.Wait(Longest)) return;
        lock (_turns)
        {
            // The turn may have come in the moment the time was up.
            if (place.List is null) return;
            _waiting.Remove(place);
        }
        throw new SqliteException("The book is being written to; try again in a moment.", 5);
    }

    public void Leave()
    {
        lock (_turns)
        {
            if (_waiting.First is not { } next)
            {
                _isTaken = false;
                return;
            }
            _waiting.RemoveFirst();
            next.Value.Release();
        }
    }

    /// <summary>Takes a turn for each transaction, from before it begins until it is over, however it ends.</summary>
    internal sealed class ForTransactions(WriterQueue queue) : DbTransactionInterceptor, IDbConnectionInterceptor
    {
        /// <summary>Connections whose transaction has the turn.</summary>
        private readonly ConditionalWeakTable<DbConnection, object> _writing = [];

        public override InterceptionResult<DbTransaction> TransactionStarting(DbConnection connection, TransactionStartingEventData eventData, InterceptionResult<DbTransaction> result)
        {
            queue.Enter();
            _writing.Add(connection, queue);
            return result;
        }

        public override ValueTask<InterceptionResult<DbTransaction>> TransactionStartingAsync(
            DbConnection connection, TransactionStartingEventData eventData, InterceptionResult<DbTransaction> result, CancellationToken cancellationToken = default) =>
            ValueTask.FromResult(TransactionStarting(connection, eventData, result));

        public override void TransactionCommitted(DbTransaction transaction, TransactionEndEventData eventData) => Over(eventData);

        public override Task TransactionCommittedAsync(DbTransaction transaction, TransactionEndEventData eventData, CancellationToken cancellationToken = default) => Over(eventData);

        public override void TransactionRolledBack(DbTransaction transaction, TransactionEndEventData eventData) => Over(eventData);

        public override Task TransactionRolledBackAsync(DbTransaction transaction, TransactionEndEventData eventData, CancellationToken cancellationToken = default) => Over(eventData);

        /// <summary>One that is only left, or could not begin, closes its connection.</summary>
        public void ConnectionClosed(DbConnection connection, ConnectionEndEventData eventData) => Over(connection);

        /// <inheritdoc cref="ConnectionClosed"/>
        public Task ConnectionClosedAsync(DbConnection connection, ConnectionEndEventData eventData) => Over(connection);

        private Task Over(TransactionEndEventData ended) => Over(ended.Context!.Database.GetDbConnection());

        private Task Over(DbConnection connection)
        {
            if (_writing.Remove(connection)) queue.Leave();
            return Task.CompletedTask;
        }
    }

    /// <summary>Takes a turn for each command that writes outside a transaction.</summary>
    internal sealed class ForCommands(WriterQueue queue) : DbCommandInterceptor
    {
        public override InterceptionResult<int> NonQueryExecuting(DbCommand command, CommandEventData eventData, InterceptionResult<int> result)
        {
            if (IsWriting(command)) queue.Enter();
            return result;
        }

        public override ValueTask<InterceptionResult<int>> NonQueryExecutingAsync(DbCommand command, CommandEventData eventData, InterceptionResult<int> result, CancellationToken cancellationToken = default) =>
            ValueTask.FromResult(NonQueryExecuting(command, eventData, result));

        public override int NonQueryExecuted(DbCommand command, CommandExecutedEventData eventData, int result)
        {
            if (IsWriting(command)) queue.Leave();
            return result;
        }

        public override ValueTask<int> NonQueryExecutedAsync(DbCommand command, CommandExecutedEventData eventData, int result, CancellationToken cancellationToken = default) =>
            ValueTask.FromResult(NonQueryExecuted(command, eventData, result));

        public override void CommandFailed(DbCommand command, CommandErrorEventData eventData)
        {
            if (eventData.ExecuteMethod == DbCommandMethod.ExecuteNonQuery && IsWriting(command)) queue.Leave();
        }

        public override Task CommandFailedAsync(DbCommand command, CommandErrorEventData eventData, CancellationToken cancellationToken = default)
        {
            CommandFailed(command, eventData);
            return Task.CompletedTask;
        }

        private static bool IsWriting(DbCommand command) => command.Transaction is null && !command.CommandText.StartsWith("PRAGMA", StringComparison.Ordinal);
    }
}
