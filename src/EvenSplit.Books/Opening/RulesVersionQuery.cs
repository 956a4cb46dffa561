using System.Globalization;
using Microsoft.Data.Sqlite;

namespace EvenSplit.Books;

/// <summary>Asks over and over, on a connection of its own that stays open, which version of the rules there is: pages do so for every row they show.</summary>
internal sealed class RulesVersionQuery(BookPlace place) : IDisposable
{
    private readonly Lock _asking = new();
    private SqliteCommand? _command;

    /// <returns>The version of the rules and the demonstration's date; null where there is no book yet.</returns>
    public (long Version, DateOnly? DemoToday)? Ask()
    {
        lock (_asking)
        {
            using var row = (_command ??= Open()).ExecuteReader();
            if (!row.Read()) return null;
            return (row.GetInt64(0), row.IsDBNull(1) ? null : DateOnly.ParseExact(row.GetString(1), "yyyy-MM-dd", CultureInfo.InvariantCulture));
        }
    }

    public void Dispose()
    {
        var connection = _command?.Connection;
        _command?.Dispose();
        connection?.Dispose();
    }

    private SqliteCommand Open()
    {
        var connection = new SqliteConnection(new SqliteConnectionStringBuilder { DataSource = place.Database, Mode = SqliteOpenMode.ReadOnly, Pooling = false }.ToString());
        connection.Open();
        var command = connection.CreateCommand();
        command.CommandText = "SELECT RulesVersion, DemoToday FROM Book";
        command.Prepare();
        return command;
    }
}
