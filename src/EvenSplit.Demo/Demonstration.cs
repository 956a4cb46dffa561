using EvenSplit.Books;
using EvenSplit.Books.Model;
using Microsoft.Data.Sqlite;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Logging;

namespace EvenSplit.Demo;

/// <summary>
/// Fills a new book with the demonstration, for trying, and empties it again. The book as it was is kept beside it meanwhile, and comes back whole; who may sign in stays the same through both.
/// </summary>
public sealed class Demonstration(BookPlace place, IServiceScopeFactory scopes, WriterQueue writers, WorkSignal signal, ILogger<Demonstration> log)
{
    private readonly Lock _asking = new();
    private volatile Task? _work;
    private volatile string _making = "";

    /// <summary>The book as it was before, beside the one that is open.</summary>
    private BookPlace Kept => new(Path.Combine(place.Folder, "without-demonstration"));

    private BookPlace Half => new(Kept.Folder + ".part");

    private BookPlace Made => new(Path.Combine(place.Folder, "demonstration"));

    /// <summary>Whether the demonstration is in the book, and what was in it before is kept. A copy that a stop left behind counts for nothing.</summary>
    public bool IsIn => File.Exists(Kept.Database) && InBook<BookDbContext, bool>(db => db.Book.Any(b => b.DemoToday != null));

    /// <summary>What is being made just now; null where nothing is.</summary>
    public string? Making => _work is { IsCompleted: false } ? _making : null;

    /// <summary>Why it was not made; null where it was, or was never asked for.</summary>
    public string? Fault { get; private set; }

    /// <summary>Whether nothing of a seller's own is in the book yet.</summary>
    public bool CanFill => InBook<BookDbContext, bool>(IsNew);

    /// <summary>Takes away what a stop left half made; as the application starts.</summary>
    public void Sweep()
    {
        foreach (var folder in new[] { Made.Folder, Half.Folder }) Remove(folder);
    }

    /// <summary>Begins to make it, by the side. Asked twice it is made once.</summary>
    /// <exception cref="RefusedException">Something of the seller's own is in the book.</exception>
    public void Fill(string by)
    {
        lock (_asking)
        {
            if (Making is not null) return;
            if (!CanFill) throw new RefusedException("Only a new book is filled with the demonstration: there is something in this one already.");
            (Fault, _making) = (null, "people, products and agreements");
            _work = Task.Run(() => MakeAsync(by));
        }
    }

    /// <summary>Waits until what was begun is done.</summary>
    public Task WhenDoneAsync() => _work ?? Task.CompletedTask;

    /// <summary>Brings back the book as it was. Whatever was done in the demonstration is gone.</summary>
    /// <exception cref="RefusedException">The demonstration is not in the book.</exception>
    public void Empty(string by)
    {
        lock (_asking)
        {
            if (!IsIn) throw new RefusedException("The demonstration is not in this book.");
            // The application may have become a later version meanwhile.
            using (var services = OneBook.At(Kept)) services.PrepareBook();
            writers.Enter();
            try
            {
                using var live = Open(place.Database);
                using var kept = Open(Kept.Database);
                TakeUsers(kept, place.Database);
                kept.BackupDatabase(live);
            }
            finally
            {
                writers.Leave();
            }
            // The folders themselves are watched.
            foreach (var file in FoldersOf(place).Where(Directory.Exists).SelectMany(f => Directory.EnumerateFiles(f, "*", SearchOption.AllDirectories))) File.Delete(file);
            Remove(Kept.Folder);
            Note(by, "empty the book of the demonstration");
        }
    }

    private async Task MakeAsync(string by)
    {
        try
        {
            Remove(Made.Folder);
            Copy(place.Keys, Made.Keys);
            await new DemoBook(Made, line => _making = line).MakeAsync(withUsers: false);
            Note(by, "fill the book with the demonstration");
            BringIn();
            Note(by, "fill the book with the demonstration");
        }
        catch (Exception fault) when (fault is not OutOfMemoryException)
        {
            log.LogError(fault, "The demonstration was not made");
            Fault = fault is RefusedException ? fault.Message : "It could not be made; the reason is in the application's log. The book is as it was.";
        }
        finally
        {
            // What is still open of it would stay on disk.
            SqliteConnection.ClearAllPools();
            Remove(Made.Folder);
            signal.Raise();
        }
    }

    /// <summary>While nobody else writes: whatever stops it, the book is the one or the other.</summary>
    private void BringIn()
    {
        using var made = Open(Made.Database);
        writers.Enter();
        try
        {
            if (!CanFill) throw new RefusedException("Something came into the book while the demonstration was made: it was left as it is.");
            using var live = Open(place.Database);
            foreach (var folder in new[] { Half.Folder, Kept.Folder }) Remove(folder);
            Directory.CreateDirectory(Half.Folder);
            using (var kept = Open(Half.Database)) live.BackupDatabase(kept);
            Directory.Move(Half.Folder, Kept.Folder);
            TakeUsers(made, place.Database);
            foreach (var (from, to) in FoldersOf(Made).Zip(FoldersOf(place))) Copy(from, to);
            made.BackupDatabase(live);
        }
        finally
        {
            writers.Leave();
        }
    }

    /// <summary>Whoever can sign in to the one book can sign in to the other.</summary>
    private static void TakeUsers(SqliteConnection into, string from)
    {
        Execute("ATTACH $from AS other", ("$from", from));
        var tables = Names("SELECT name FROM main.sqlite_master WHERE type = 'table' AND (name LIKE 'AspNet%' OR name = 'Sessions')");
        Execute("BEGIN IMMEDIATE");
        Execute("PRAGMA defer_foreign_keys = ON");
        // The names come from the book itself; a table's name cannot be a parameter.
        foreach (var table in tables) Execute($"DELETE FROM main.\"{table}\"");
        foreach (var table in tables) Execute($"INSERT INTO main.\"{table}\" SELECT * FROM other.\"{table}\"");
        Execute("COMMIT");
        Execute("DETACH other");

        void Execute(string sql, params (string Name, string Value)[] parameters)
        {
            using var command = into.CreateCommand();
            command.CommandText = sql;
            foreach (var (name, value) in parameters) command.Parameters.AddWithValue(name, value);
            command.ExecuteNonQuery();
        }

        List<string> Names(string sql)
        {
            using var command = into.CreateCommand();
            command.CommandText = sql;
            using var rows = command.ExecuteReader();
            var names = new List<string>();
            while (rows.Read()) names.Add(rows.GetString(0));
            return names;
        }
    }

    private static bool IsNew(BookDbContext db) =>
        db.Book.Any(b => b.DemoToday == null) && !db.Products.Any() && !db.Payees.Any() && !db.AgreementVersions.Any() && !db.AgreementDrafts.Any() && !db.Imports.Any() && !db.Orders.Any() && !db.PayRuns.Any()
        && !db.Processors.Any() && !db.Channels.Any() && !db.ExchangeRates.Any() && !db.EventSources.Any();

    private void Note(string by, string what) => InBook<AuditLog, bool>(audit =>
    {
        audit.NoteAlone(by, what, "Hedgerow & Sky");
        return true;
    });

    private TResult InBook<T, TResult>(Func<T, TResult> work) where T : notnull
    {
        using var scope = scopes.CreateScope();
        return work(scope.ServiceProvider.GetRequiredService<T>());
    }

    private static IEnumerable<string> FoldersOf(BookPlace of) => [of.Uploads, of.AsTheyCame, of.Bank, of.Wallet, of.Processor, of.Partners, of.Outbox];

    private static SqliteConnection Open(string database)
    {
        var connection = new SqliteConnection(new SqliteConnectionStringBuilder { DataSource = database, Pooling = false, ForeignKeys = true }.ToString());
        connection.Open();
        return connection;
    }

    private static void Copy(string from, string to)
    {
        Directory.CreateDirectory(to);
        if (!Directory.Exists(from)) return;
        foreach (var file in Directory.EnumerateFiles(from, "*", SearchOption.AllDirectories))
        {
            var target = Path.Combine(to, Path.GetRelativePath(from, file));
            Directory.CreateDirectory(Path.GetDirectoryName(target)!);
            File.Copy(file, target, overwrite: true);
        }
    }

    private static void Remove(string folder)
    {
        if (Directory.Exists(folder)) Directory.Delete(folder, recursive: true);
    }
}
