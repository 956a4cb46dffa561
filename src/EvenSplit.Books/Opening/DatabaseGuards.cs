using System.Text.RegularExpressions;
using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Storage;

namespace EvenSplit.Books;

/// <summary>The triggers by which the database refuses what must never happen, as Guards.sql has them.</summary>
internal static partial class DatabaseGuards
{
    /// <summary>What stands in the file, by name.</summary>
    public static IReadOnlyDictionary<string, string> Wanted { get; } = Read();

    /// <summary>What the database has, by name.</summary>
    public static IReadOnlyDictionary<string, string> Present(BookDbContext db) =>
        PlainQuery.Rows(db, "SELECT name, sql FROM sqlite_master WHERE type = 'trigger'", row => (Name: row.GetString(0), Sql: row.GetString(1))).ToDictionary(g => g.Name, g => g.Sql);

    /// <summary>Makes them anew where they are not as they should be.</summary>
    public static void Renew(BookDbContext db)
    {
        var present = Present(db);
        if (present.Count == Wanted.Count && Wanted.All(g => present.GetValueOrDefault(g.Key) == g.Value)) return;
        using var transaction = db.Database.BeginTransaction();
        // Names come from the database itself and texts from a file of the application; a trigger's name cannot be a parameter.
        foreach (var name in present.Keys) Execute($"DROP TRIGGER \"{name}\"");
        foreach (var sql in Wanted.Values) Execute(sql);
        transaction.Commit();

        void Execute(string sql)
        {
            using var command = db.Database.GetDbConnection().CreateCommand();
            (command.CommandText, command.Transaction) = (sql, transaction.GetDbTransaction());
            command.ExecuteNonQuery();
        }
    }

    private static Dictionary<string, string> Read()
    {
        using var file = new StreamReader(typeof(DatabaseGuards).Assembly.GetManifestResourceStream("Guards.sql")!);
        return Trigger().Matches(file.ReadToEnd()).ToDictionary(m => m.Groups[1].Value, m => m.Value.TrimEnd(';'));
    }

    [GeneratedRegex(@"^CREATE TRIGGER (\w+) .* END;$", RegexOptions.Multiline)]
    private static partial Regex Trigger();
}
