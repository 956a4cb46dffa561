using System.Data.Common;
using Microsoft.EntityFrameworkCore.Diagnostics;

namespace EvenSplit.Books;

/// <summary>Wakes whoever works in the background when something has been written that there may be work in.</summary>
public sealed class WorkSignal : IDisposable
{
    private readonly SemaphoreSlim _raised = new(0, 1);

    public void Raise()
    {
        // One is enough, however much was written meanwhile.
        lock (_raised)
        {
            if (_raised.CurrentCount == 0) _raised.Release();
        }
    }

    /// <summary>Returns when something was written since the last time, or when the time is up.</summary>
    public Task WaitAsync(TimeSpan most, CancellationToken cancellation) => _raised.WaitAsync(most, cancellation);

    public void Dispose() => _raised.Dispose();

    /// <summary>Raises it after each transaction, and after what is saved without one.</summary>
    internal sealed class AfterCommit(WorkSignal signal) : DbTransactionInterceptor
    {
        public override void TransactionCommitted(DbTransaction transaction, TransactionEndEventData eventData) => signal.Raise();

        public override Task TransactionCommittedAsync(DbTransaction transaction, TransactionEndEventData eventData, CancellationToken cancellationToken = default)
        {
            signal.Raise();
            return Task.CompletedTask;
        }
    }

    /// <inheritdoc cref="AfterCommit"/>
    internal sealed class AfterSave(WorkSignal signal) : SaveChangesInterceptor
    {
        public override int SavedChanges(SaveChangesCompletedEventData eventData, int result)
        {
            Raise(eventData, result);
            return result;
        }

        public override ValueTask<int> SavedChangesAsync(SaveChangesCompletedEventData eventData, int result, CancellationToken cancellationToken = default)
        {
            Raise(eventData, result);
            return ValueTask.FromResult(result);
        }

        private void Raise(SaveChangesCompletedEventData saved, int rows)
        {
            if (rows > 0 && saved.Context?.Database.CurrentTransaction is null) signal.Raise();
        }
    }
}
