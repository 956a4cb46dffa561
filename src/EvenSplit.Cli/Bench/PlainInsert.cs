using EvenSplit.Books;
using Microsoft.Data.Sqlite;

namespace EvenSplit.Cli.Bench;

/// <summary>
/// The yardstick: the facts and entries an import or a scenario left, read into memory and put into an empty book of the same schema by prepared statements in
/// one transaction, with the same indexes, triggers and pragmas, and nothing worked out.
/// </summary>
internal static class PlainInsert
{
    private static readonly string[] Tables = ["Orders", "OrderLines", "OrderCodes", "OrderClicks", "Refunds", "RefundLines", "Entries"];

    public static (TimeSpan Time, int Rows) Run(BookPlace from, BookPlace into)
    {
        using var services = OneBook.At(into);
        services.PrepareBook();
        CopyWhatOrdersReferTo(from, into);
        using var source = Open(from);
        var content = Tables.Select(table => (Table: table, Rows: ReadAll(source, table))).Where(c => c.Rows.Count > 0).ToArray();
        using var target = Open(into);
        using var pragma = target.CreateCommand();
        pragma.CommandText = "PRAGMA synchronous = NORMAL; PRAGMA cache_size = -64000; PRAGMA wal_autocheckpoint = 8000; PRAGMA foreign_keys = ON;";
        pragma.ExecuteNonQuery();
        GC.Collect();
        var started = System.Diagnostics.Stopwatch.StartNew();
        using (var transaction = target.BeginTransaction())
        {
            foreach (var (table, rows) in content) Insert(target, transaction, table, rows);
            // The index of their ids, as a table has its own.
            using var texts = target.CreateCommand();
            (texts.CommandText, texts.Transaction) = ("INSERT INTO OrderTexts (rowid, Text) SELECT Id, OrderId FROM Orders", transaction);
            texts.ExecuteNonQuery();
            transaction.Commit();
        }
        return (started.Elapsed, content.Sum(c => c.Rows.Count));
    }

    private static void Insert(SqliteConnection target, SqliteTransaction transaction, string table, List<object[]> rows)
    {
        using var command = target.CreateCommand();
        command.Transaction = transaction;
        var width = rows[0].Length;
        command.CommandText = $"INSERT INTO {table} VALUES ({string.Join(", ", Enumerable.Range(0, width).Select(i => "$p" + i))})";
        for (var i = 0; i < width; i++) command.Parameters.Add(new SqliteParameter("$p" + i, null));
        command.Prepare();
        foreach (var row in rows)
        {
            for (var i = 0; i < width; i++) command.Parameters[i].Value = row[i];
            command.ExecuteNonQuery();
        }
    }

    private static List<object[]> ReadAll(SqliteConnection source, string table)
    {
        using var command = source.CreateCommand();
        command.CommandText = $"SELECT * FROM {table}";
        using var reader = command.ExecuteReader();
        var rows = new List<object[]>();
        while (reader.Read())
        {
            var row = new object[reader.FieldCount];
            reader.GetValues(row);
            rows.Add(row);
        }
        return rows;
    }

    private static void CopyWhatOrdersReferTo(BookPlace from, BookPlace into)
    {
        using var target = Open(into);
        using var command = target.CreateCommand();
        command.CommandText = $"ATTACH DATABASE '{from.Database}' AS whole; "
            + string.Concat(new[] { "Products", "Payees" }.Select(t => $"INSERT INTO main.{t} SELECT * FROM whole.{t}; "));
        command.ExecuteNonQuery();
    }

    private static SqliteConnection Open(BookPlace place)
    {
        var connection = new SqliteConnection($"Data Source={place.Database}");
        connection.Open();
        return connection;
    }
}
