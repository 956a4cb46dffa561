using System.Data.Common;
using System.Runtime.CompilerServices;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Diagnostics;
using Microsoft.EntityFrameworkCore.Storage;

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

    /// <summary>The turns that transactions have, by their connection.</summary>
    private static readonly ConditionalWeakTable<DbConnection, WriterQueue> OfTransactions = [];

    private static void Leave(DbConnection connection)
    {
        if (OfTransactions.TryGetValue(connection, out var queue) && OfTransactions.Remove(connection)) queue.Leave();
    }

    /// <summary>Takes a turn for each transaction, from before it begins.</summary>
    internal sealed class ForTransactions(WriterQueue queue) : DbTransactionInterceptor
    {
        public override InterceptionResult<DbTransaction> TransactionStarting(DbConnection connection, TransactionStartingEventData eventData, InterceptionResult<DbTransaction> result)
        {
            queue.Enter();
            try
            {
                // Begun here, since nothing tells that one could not begin.
                var begun = result.HasResult ? result : InterceptionResult<DbTransaction>.SuppressWithResult(connection.BeginTransaction(eventData.IsolationLevel));
                OfTransactions.Add(connection, queue);
                return begun;
            }
            catch
            {
                queue.Leave();
                throw;
            }
        }

        public override ValueTask<InterceptionResult<DbTransaction>> TransactionStartingAsync(
            DbConnection connection, TransactionStartingEventData eventData, InterceptionResult<DbTransaction> result, CancellationToken cancellationToken = default) =>
            ValueTask.FromResult(TransactionStarting(connection, eventData, result));
    }

    /// <summary>Gives the turn of a transaction back as it is over, however it ends: an interceptor is not told of one that is only left, nor is its connection always closed then.</summary>
    internal sealed class WritingTransactions(RelationalTransactionFactoryDependencies dependencies) : RelationalTransactionFactory(dependencies)
    {
        public override RelationalTransaction Create(IRelationalConnection connection, DbTransaction transaction, Guid transactionId, IDiagnosticsLogger<DbLoggerCategory.Database.Transaction> logger, bool transactionOwned) =>
            transactionOwned ? new Writing(connection, transaction, transactionId, logger, Dependencies.SqlGenerationHelper) : base.Create(connection, transaction, transactionId, logger, transactionOwned);

        private sealed class Writing(IRelationalConnection connection, DbTransaction transaction, Guid transactionId, IDiagnosticsLogger<DbLoggerCategory.Database.Transaction> logger, ISqlGenerationHelper sql)
            : RelationalTransaction(connection, transaction, transactionId, logger, transactionOwned: true, sql)
        {
            private readonly DbConnection _connection = connection.DbConnection;

            protected override void ClearTransaction()
            {
                Leave(_connection);
                base.ClearTransaction();
            }

            protected override Task ClearTransactionAsync(CancellationToken cancellationToken = default)
            {
                Leave(_connection);
                return base.ClearTransactionAsync(cancellationToken);
            }

            /// <inheritdoc/>
            public override void Dispose()
            {
                try
                {
                    base.Dispose();
                }
                finally
                {
                    Leave(_connection);
                }
            }

            /// <inheritdoc/>
            public override async ValueTask DisposeAsync()
            {
                try
                {
                    await base.DisposeAsync().ConfigureAwait(false);
                }
                finally
                {
                    Leave(_connection);
                }
            }
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

        public override void CommandCanceled(DbCommand command, CommandEndEventData eventData)
        {
            if (eventData.ExecuteMethod == DbCommandMethod.ExecuteNonQuery && IsWriting(command)) queue.Leave();
        }

        public override Task CommandCanceledAsync(DbCommand command, CommandEndEventData eventData, CancellationToken cancellationToken = default)
        {
            CommandCanceled(command, eventData);
            return Task.CompletedTask;
        }

        private static bool IsWriting(DbCommand command) => command.Transaction is null && !command.CommandText.StartsWith("PRAGMA", StringComparison.Ordinal);
    }
}
