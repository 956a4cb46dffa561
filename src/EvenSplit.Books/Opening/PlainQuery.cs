using System.Data.Common;
using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books;

/// <summary>Questions that every start asks of the database, and so without compiling a query, or a model for it, first: that took a third of a start.</summary>
internal static class PlainQuery
{
    public static List<T> Rows<T>(BookDbContext db, string sql, Func<DbDataReader, T> row)
    {
        var rows = new List<T>();
        db.Database.OpenConnection();
        try
        {
            using var command = db.Database.GetDbConnection().CreateCommand();
            command.CommandText = sql;
            using var reader = command.ExecuteReader();
            while (reader.Read()) rows.Add(row(reader));
            return rows;
        }
        finally
        {
            db.Database.CloseConnection();
        }
    }

    /// <param name="exists">A query whose one value is 0 or 1.</param>
    public static bool IsAny(BookDbContext db, string exists) => Rows(db, exists, row => row.GetInt64(0) != 0)[0];

    /// <summary>The migrations that the database has been through, in their order; none where it is new.</summary>
    public static string[] AppliedMigrations(BookDbContext db) =>
        IsAny(db, "SELECT EXISTS (SELECT 1 FROM sqlite_master WHERE name = '__EFMigrationsHistory')")
            ? [.. Rows(db, "SELECT MigrationId FROM __EFMigrationsHistory ORDER BY MigrationId", row => row.GetString(0))]
            : [];
}
