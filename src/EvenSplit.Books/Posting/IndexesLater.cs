using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Storage;

namespace EvenSplit.Books.Posting;

/// <summary>Takes the indexes off some tables while they are filled from nothing, and makes them anew at the end: sorted once instead of at each row.</summary>
internal sealed class IndexesLater : IDisposable
{
    private sealed record Index(string Name, string Sql);

    private readonly BookDbContext _db;
    private readonly Index[] _indexes;

    public IndexesLater(BookDbContext db, params string[] tables)
    {
        _db = db;
        _indexes = [.. tables.SelectMany(t => db.Database.SqlQuery<Index>($"SELECT name AS Name, sql AS Sql FROM sqlite_master WHERE type = 'index' AND tbl_name = {t} AND sql IS NOT NULL"))];
        foreach (var index in _indexes) Execute($"DROP INDEX \"{index.Name}\"");
    }

    public void Dispose()
    {
        _db.Database.OpenConnection();
        try
        {
            // So many threads may help to sort what an index is made of.
            _db.Database.ExecuteSqlRaw("PRAGMA threads = 4");
            foreach (var index in _indexes) Execute(index.Sql);
            _db.Database.ExecuteSqlRaw("PRAGMA threads = 0");
        }
        finally
        {
            _db.Database.CloseConnection();
        }
    }

    /// <summary>Names and texts come from the database itself; an index's name cannot be a parameter.</summary>
    private void Execute(string sql)
    {
        using var transaction = _db.Database.BeginTransaction();
        using var command = _db.Database.GetDbConnection().CreateCommand();
        (command.CommandText, command.Transaction) = (sql, transaction.GetDbTransaction());
        command.ExecuteNonQuery();
        transaction.Commit();
    }
}
