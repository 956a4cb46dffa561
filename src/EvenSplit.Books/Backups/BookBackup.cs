using EvenSplit.Books.Model;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Backups;

/// <summary>A backup as it was made.</summary>
public sealed record MadeBackup(string Path, DateTimeOffset At, int Files, long Bytes);

/// <summary>
/// Backs a book up whole while others work in it: its database as of one moment, what is still in the journal included, its keys, and every file that was handed
/// in, sent or answered. The file is read back before it counts.
/// </summary>
public sealed class BookBackup(BookDbContext db, BookPlace place, AuditLog audit) : IUseCase
{
    /// <summary>Shorter ones are guessed from a stolen file.</summary>
    public const int ShortestPassphrase = 16;

    private const string DatabaseName = "book.db";

    private string[] Folders => [place.Keys, place.Uploads, place.Outbox, place.Bank, place.Wallet, place.AsTheyCame];

    /// <summary>The last one that is on record; null where there is none.</summary>
    public DateTimeOffset? Last() => db.Audit.AsNoTracking().Where(a => a.Action == Action).OrderByDescending(a => a.Id).Select(a => (DateTimeOffset?)a.At).FirstOrDefault();

    private const string Action = "back the book up";

    /// <param name="path">The file to make; one that is there is not written over.</param>
    /// <exception cref="RefusedException">There is no book, the file is there already, the passphrase is too short, or what was written does not read back.</exception>
    public MadeBackup Make(string path, string passphrase, string by)
    {
        if (!File.Exists(place.Database) || !db.Book.Any()) throw new RefusedException($"There is no book in {place.Folder}.");
        if (File.Exists(path)) throw new RefusedException($"{path} is there already; give the backup another name.");
        if (passphrase.Length < ShortestPassphrase) throw new RefusedException($"The passphrase has at least {ShortestPassphrase} characters: whoever has the file can try as often as they like.");
        // Before, so that the book that comes back says when it was saved.
        audit.NoteAlone(by, Action, Path.GetFileName(path));
        var work = Directory.CreateTempSubdirectory("evensplit-backup-").FullName;
        var part = path + ".part";
        try
        {
            var at = TimeProvider.System.GetUtcNow();
            var copy = Path.Combine(work, DatabaseName);
            CopyDatabase(db, copy);
            (string Name, string File)[] files = [(DatabaseName, copy), .. Folders.Where(Directory.Exists).SelectMany(FilesIn)];
            BackupFile.Write(part, passphrase, db.Book.Select(b => b.Name).First(), at, files);
            if (!OperatingSystem.IsWindows()) File.SetUnixFileMode(part, UnixFileMode.UserRead | UnixFileMode.UserWrite);
            var opened = Path.Combine(work, "opened");
            BackupFile.Extract(part, passphrase, opened);
            if (DatabaseFault(Path.Combine(opened, DatabaseName)) is { } fault) throw new RefusedException($"The backup does not read back: {fault}. It was not kept.");
            File.Move(part, path);
            return new MadeBackup(path, at, files.Length, new FileInfo(path).Length);
        }
        finally
        {
            File.Delete(part);
            Directory.Delete(work, recursive: true);
        }
    }

    /// <summary>What the database's own check says of a file; null where it is whole.</summary>
    internal static string? DatabaseFault(string database)
    {
        try
        {
            using var connection = new SqliteConnection(new SqliteConnectionStringBuilder { DataSource = database, Mode = SqliteOpenMode.ReadOnly, Pooling = false }.ToString());
            connection.Open();
            using var command = connection.CreateCommand();
            command.CommandText = "PRAGMA quick_check";
            return (string)command.ExecuteScalar()! is "ok" ? null : "the database is damaged";
        }
        catch (SqliteException damaged)
        {
            return damaged.Message;
        }
    }

    /// <summary>Copies a database as of one moment while others write in it.</summary>
    internal static void CopyDatabase(BookDbContext db, string copy)
    {
        using var target = new SqliteConnection(new SqliteConnectionStringBuilder { DataSource = copy, Pooling = false }.ToString());
        target.Open();
        db.Database.OpenConnection();
        try
        {
            ((SqliteConnection)db.Database.GetDbConnection()).BackupDatabase(target);
        }
        finally
        {
            db.Database.CloseConnection();
        }
    }

    private IEnumerable<(string Name, string File)> FilesIn(string folder) => Directory.EnumerateFiles(folder, "*", SearchOption.AllDirectories)
        // What is only half written is no file yet.
        .Where(f => !f.EndsWith(".part", StringComparison.Ordinal)).Order(StringComparer.Ordinal)
        .Select(f => (Path.GetRelativePath(place.Folder, f).Replace('\\', '/'), f));
}
