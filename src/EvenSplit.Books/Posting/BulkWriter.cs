using EvenSplit.Books.Model;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata;
using SQLitePCL;

namespace EvenSplit.Books.Posting;

/// <summary>
/// One prepared statement for many rows of one entity, which are not tracked: columns and conversions come from the EF model, connection and
/// transaction from EF. Keys must be set by the caller. It talks to SQLite itself, since looking parameters up by name takes as long as storing the row.
/// </summary>
internal sealed class BulkWriter<T> : IDisposable where T : class
{
    private readonly sqlite3 _database;
    private readonly sqlite3_stmt _statement;
    private readonly string[] _names;
    private readonly RowBinding<T> _binding;
    private readonly WrittenAlongside _alongside;

    private BulkWriter(BookDbContext db, string verb, IReadOnlyList<IProperty> columns, Func<IReadOnlyList<string>, string> sql)
    {
        if (db.Database.CurrentTransaction is null) throw new InvalidOperationException("Bulk rows are written inside a transaction.");
        _database = ((SqliteConnection)db.Database.GetDbConnection()).Handle!;
        Check(raw.sqlite3_prepare_v2(_database, sql([.. columns.Select(c => $"\"{c.GetColumnName()}\"")]), out _statement));
        (_names, _alongside) = ([.. new[] { Table(db), Entity(db).GetViewName() }.OfType<string>()], db.Alongside);
        _binding = new RowBinding<T>(verb, columns);
    }

    public static BulkWriter<T> Inserting(BookDbContext db) => Whole(db, "INSERT");

    /// <summary>
    /// For tables whose triggers write nothing and refuse by FAIL: a row that is refused has changed nothing, so SQLite keeps no pages to undo it by. Elsewhere it
    /// would do harm: what triggers write fails in the same way, and is left half written.
    /// </summary>
    public static BulkWriter<T> InsertingGuarded(BookDbContext db) => Whole(db, "INSERT OR FAIL");

    /// <summary>A row takes the place of one with the same key.</summary>
    public static BulkWriter<T> Replacing(BookDbContext db) => Whole(db, "INSERT OR REPLACE");

    /// <summary>What rows count is added to the rows with the same keys; where there is none, it comes. Fingerprints add up as <see cref="EntryFingerprint.Add"/> does it.</summary>
    public static BulkWriter<T> Adding(BookDbContext db)
    {
        var counts = Entity(db).GetProperties().Where(p => !p.IsPrimaryKey()).Select(p => (Name: $"\"{p.GetColumnName()}\"", IsFingerprint: p.Name == nameof(EntrySumRecord.Fingerprint)));
        var sums = counts.Select(c => c.IsFingerprint ? $"{c.Name} = ({c.Name} + excluded.{c.Name}) & {EntryFingerprint.Mask}" : $"{c.Name} = {c.Name} + excluded.{c.Name}");
        return Whole(db, "INSERT", $" ON CONFLICT DO UPDATE SET {string.Join(", ", sums)}");
    }

    /// <summary>Rows go by their keys.</summary>
    public static BulkWriter<T> Deleting(BookDbContext db) => new(db, "DELETE", Key(db), names => $"DELETE FROM \"{Table(db)}\" WHERE {Equal(names, " AND ")}");

    /// <summary>Some columns of rows are set, found by their keys.</summary>
    /// <param name="columns">Names of properties, none of the key.</param>
    public static BulkWriter<T> Updating(BookDbContext db, IReadOnlyCollection<string> columns) => new(
        db, "UPDATE " + string.Join(' ', columns), [.. columns.Select(c => Entity(db).FindProperty(c)!), .. Key(db)],
        names => $"UPDATE \"{Table(db)}\" SET {Equal(names.Take(columns.Count), ", ")} WHERE {Equal(names.Skip(columns.Count), " AND ")}");

    /// <returns>How many rows there were.</returns>
    /// <exception cref="SqliteException">The database refuses a row.</exception>
    public int Write(IEnumerable<T> rows)
    {
        _alongside.WaitFor(_names[0]);
        using var turn = _alongside.Between();
        var count = 0;
        foreach (var row in rows)
        {
            Write(row);
            count++;
        }
        return count;
    }

    /// <summary>Writes rows and disposes of this.</summary>
    /// <param name="alongside">Whether another thread does: <see cref="BookDbContext.Alongside"/> tells when they are in, and what the database refuses.</param>
    /// <exception cref="SqliteException">The database refuses a row.</exception>
    public void WriteAll(IReadOnlyCollection<T> rows, bool alongside)
    {
        if (alongside && rows.Count > 0)
        {
            _alongside.Begin(_names, rows, Write, Dispose);
            return;
        }
        using (this)
        {
            if (rows.Count > 0) Write(rows);
        }
    }

    private void Write(T row)
    {
        _binding.Bind(_statement, row);
        var result = raw.sqlite3_step(_statement);
        // Resetting tells the same fault again.
        raw.sqlite3_reset(_statement);
        if (result != raw.SQLITE_DONE) Check(result);
    }

    public void Dispose() => _statement.Dispose();

    private void Check(int result) => SqliteException.ThrowExceptionForRC(result, _database);

    private static BulkWriter<T> Whole(BookDbContext db, string verb, string onConflict = "") => new(
        db, verb, [.. Entity(db).GetProperties().Where(p => p.ValueGenerated != ValueGenerated.OnAddOrUpdate)],
        names => $"{verb} INTO \"{Table(db)}\" ({string.Join(", ", names)}) VALUES ({string.Join(", ", names.Select(_ => "?"))}){onConflict}");

    private static IEntityType Entity(BookDbContext db) => db.Model.FindEntityType(typeof(T))!;

    private static string Table(BookDbContext db) => Entity(db).GetTableName()!;

    private static IReadOnlyList<IProperty> Key(BookDbContext db) => Entity(db).FindPrimaryKey()!.Properties;

    private static string Equal(IEnumerable<string> names, string between) => string.Join(between, names.Select(n => n + " = ?"));
}
