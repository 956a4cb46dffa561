using System.Runtime.CompilerServices;
using System.Security.Cryptography;
using System.Text.Json;
using EvenSplit.Books.Model;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Diagnostics;
using Microsoft.EntityFrameworkCore.Storage;

namespace EvenSplit.Books.Record;

/// <summary>
/// Writes what was noted into the record: with what changed from what to what, and the hash of the row before it, so that none can be taken out or altered
/// without all after it. The row before is read within the transaction, when it is this writer's turn.
/// </summary>
internal sealed class RecordChain : SaveChangesInterceptor
{
    /// <summary>What was saved in a transaction before somebody noted why.</summary>
    private readonly ConditionalWeakTable<DbContext, Pending> _pending = [];

    private sealed class Pending
    {
        public readonly List<RecordedChange> Changes = [];
        public readonly SortedSet<string> Things = new(StringComparer.Ordinal);
        public IDbContextTransaction? Own;
        /// <summary>In which it was saved; what was saved in another is no part of this one.</summary>
        public Guid? Transaction;

        public void Clear()
        {
            Changes.Clear();
            Things.Clear();
        }
    }

    /// <summary>What a row comes to, the one before it included.</summary>
    public static string HashOf(string before, AuditRecord row) => Convert.ToHexStringLower(SHA256.HashData(JsonSerializer.SerializeToUtf8Bytes(
        (object[])[before, row.Id, row.At.UtcTicks, row.By, row.Origin, row.Action, row.Subject, row.Changes, row.Things.Select(t => t.Thing).Order(StringComparer.Ordinal)])));

    public override InterceptionResult<int> SavingChanges(DbContextEventData eventData, InterceptionResult<int> result)
    {
        if (eventData.Context is BookDbContext db) Write(db);
        return result;
    }

    public override ValueTask<InterceptionResult<int>> SavingChangesAsync(DbContextEventData eventData, InterceptionResult<int> result, CancellationToken cancellationToken = default) =>
        ValueTask.FromResult(SavingChanges(eventData, result));

    public override int SavedChanges(SaveChangesCompletedEventData eventData, int result)
    {
        if (eventData.Context is not { } db || !_pending.TryGetValue(db, out var pending)) return result;
        pending.Own?.Commit();
        End(db, pending);
        // What a later note of the same transaction is about is kept for it.
        if (db.Database.CurrentTransaction is null) _pending.Remove(db);
        return result;
    }

    public override ValueTask<int> SavedChangesAsync(SaveChangesCompletedEventData eventData, int result, CancellationToken cancellationToken = default) => ValueTask.FromResult(SavedChanges(eventData, result));

    public override void SaveChangesFailed(DbContextErrorEventData eventData)
    {
        if (eventData.Context is not { } db || !_pending.TryGetValue(db, out var pending)) return;
        End(db, pending);
        _pending.Remove(db);
    }

    public override Task SaveChangesFailedAsync(DbContextErrorEventData eventData, CancellationToken cancellationToken = default)
    {
        SaveChangesFailed(eventData);
        return Task.CompletedTask;
    }

    private static void End(DbContext db, Pending pending)
    {
        pending.Own?.Dispose();
        pending.Own = null;
        foreach (var kept in db.ChangeTracker.Entries().Where(e => e.Entity is AuditRecord or AuditThingRecord).ToArray()) kept.State = EntityState.Detached;
    }

    private void Write(BookDbContext db)
    {
        var pending = _pending.GetOrCreateValue(db);
        var transaction = db.Database.CurrentTransaction?.TransactionId;
        if (transaction is null || transaction != pending.Transaction) pending.Clear();
        pending.Transaction = transaction;
        // Whoever has switched that off writes rules by the thousand, as a scenario has them.
        foreach (var (change, things) in db.ChangeTracker.AutoDetectChangesEnabled ? RecordedChanges.Of(db.ChangeTracker) : [])
        {
            if (pending.Changes.Count < RecordedChanges.Most) pending.Changes.Add(change);
            pending.Things.UnionWith(things);
        }
        var noted = db.ChangeTracker.Entries<AuditRecord>().Where(e => e.State == EntityState.Added).ToArray();
        if (noted.Length == 0) return;
        // A turn of one's own, so that nobody comes between reading the last row and writing the next.
        if (db.Database.CurrentTransaction is null) pending.Own = db.Database.BeginTransaction();
        var (last, hash) = Last(db);
        foreach (var entry in noted)
        {
            var row = entry.Entity;
            entry.Property(a => a.Id).CurrentValue = ++last;
            if (entry == noted[^1])
            {
                if (pending.Changes.Count > 0) row.Changes = JsonSerializer.Serialize(pending.Changes, JsonSerializerOptions.Default);
                row.Things = [.. pending.Things.Select(t => new AuditThingRecord { AuditId = last, Thing = t })];
                db.AddRange(row.Things);
            }
            row.Hash = hash = HashOf(hash, row);
        }
        pending.Clear();
    }

    /// <summary>The last row's number and hash; 0 and nothing in a new book.</summary>
    private static (long Id, string Hash) Last(BookDbContext db)
    {
        using var command = db.Database.GetDbConnection().CreateCommand();
        (command.CommandText, command.Transaction) = ("SELECT Id, Hash FROM Audit ORDER BY Id DESC LIMIT 1", db.Database.CurrentTransaction!.GetDbTransaction());
        using var row = command.ExecuteReader();
        return row.Read() ? (row.GetInt64(0), row.GetString(1)) : (0, "");
    }

    /// <summary>Links the rows of a book that had no hashes yet.</summary>
    public static void Begin(BookDbContext db)
    {
        using var transaction = db.Database.BeginTransaction();
        var hash = "";
        using var command = ((SqliteConnection)db.Database.GetDbConnection()).CreateCommand();
        (command.CommandText, command.Transaction) = ("UPDATE Audit SET Hash = $hash WHERE Id = $id", (SqliteTransaction)transaction.GetDbTransaction());
        var (hashParameter, idParameter) = (command.Parameters.Add("$hash", SqliteType.Text), command.Parameters.Add("$id", SqliteType.Integer));
        foreach (var row in db.Audit.AsNoTracking().OrderBy(a => a.Id).ToArray())
        {
            hash = HashOf(hash, row);
            (hashParameter.Value, idParameter.Value) = (hash, row.Id);
            command.ExecuteNonQuery();
        }
        transaction.Commit();
    }
}
