using EvenSplit.Books.Model;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Storage;

namespace EvenSplit.Books;

internal static class Transactions
{
    /// <summary>A transaction, or null where the caller has begun one, whose part this then is.</summary>
    public static IDbContextTransaction? BeginUnlessBegun(this BookDbContext db) =>
        db.Database.CurrentTransaction is null ? db.Database.BeginTransaction() : null;

    /// <summary>
    /// One state of the book until it is disposed of, whoever writes meanwhile; begun without the intention to write, so that no writer waits for it. Null
    /// inside a transaction, which sees one state anyway.
    /// </summary>
    public static IDisposable? BeginReading(this BookDbContext db) => db.Database.CurrentTransaction is null ? new Reading(db) : null;

    private sealed class Reading : IDisposable
    {
        private readonly BookDbContext _db;
        private readonly SqliteTransaction _transaction;
        private readonly IDbContextTransaction _used;

        public Reading(BookDbContext db)
        {
            _db = db;
            db.Database.OpenConnection();
            try
            {
                _transaction = ((SqliteConnection)db.Database.GetDbConnection()).BeginTransaction(deferred: true);
                _used = db.Database.UseTransaction(_transaction)!;
            }
            catch
            {
                _transaction?.Dispose();
                db.Database.CloseConnection();
                throw;
            }
        }

        /// <summary>EF opens the connection once more for a transaction it is given, and closes it only as that is disposed of.</summary>
        public void Dispose()
        {
            _used.Dispose();
            _transaction.Dispose();
            _db.Database.CloseConnection();
        }
    }
}
