using System.Security.Cryptography;
using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace EvenSplit.Books.Backups;

/// <summary>
/// Brings a book back from a backup. What it did after the backup was made it does not know; so it names payments otherwise from then on, and issues nothing until
/// somebody has said that what banks did since is taken up.
/// </summary>
public sealed class RestoredBook(BookDbContext db, BookCache cache, AuditLog audit) : IUseCase
{
    private const int MarkLength = 4;
    private const string MarkLetters = "ABCDEFGHJKLMNPQRSTUVWXYZ23456789";

    /// <summary>When the backup was made that this book came back from, while that is not settled; null otherwise.</summary>
    public DateTimeOffset? From => cache.Get(db).Record.RestoredFrom;

    /// <summary>Takes a backup out into a folder that holds nothing yet.</summary>
    /// <param name="services">Makes the services of a book in a folder.</param>
    /// <exception cref="RefusedException">There is something in the folder, or the file does not open or is damaged; nothing is left behind then.</exception>
    public static DateTimeOffset Restore(string file, string passphrase, BookPlace place, Func<BookPlace, ServiceProvider> services, string by)
    {
        if (!File.Exists(file)) throw new RefusedException($"There is no file {file}.");
        if (Directory.Exists(place.Folder) && Directory.EnumerateFileSystemEntries(place.Folder).Any()) throw new RefusedException($"{place.Folder} is not empty. A backup never goes over a book: give a folder that is not there yet.");
        var part = place.Folder.TrimEnd('/') + ".part";
        if (Directory.Exists(part)) Directory.Delete(part, recursive: true);
        try
        {
            var manifest = BackupFile.Extract(file, passphrase, part);
            if (BookBackup.DatabaseFault(Path.Combine(part, "book.db")) is { } fault) throw new RefusedException($"The database in the backup is not sound: {fault}.");
            using (var restored = services(new BookPlace(part)))
            {
                restored.PrepareBook();
                using var scope = restored.CreateScope();
                scope.ServiceProvider.GetRequiredService<RestoredBook>().Mark(manifest.At, by);
            }
            Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
            if (Directory.Exists(place.Folder)) Directory.Delete(place.Folder);
            Directory.Move(part, place.Folder);
            return manifest.At;
        }
        catch
        {
            Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
            if (Directory.Exists(part)) Directory.Delete(part, recursive: true);
            throw;
        }
    }

    /// <summary>Says that what banks and wallets did since the backup is taken up: from here on the book issues again.</summary>
    /// <exception cref="RefusedException">There is nothing to take up.</exception>
    public void TakenUp(string by)
    {
        using var transaction = db.Database.BeginTransaction();
        var book = db.Book.Single();
        if (book.RestoredFrom is null) throw new RefusedException("This is settled already.");
        book.RestoredFrom = null;
        book.RulesVersion++;
        audit.Note(by, "say that what was done since the backup is taken up", book.Name);
        db.SaveChanges();
        transaction.Commit();
    }

    /// <exception cref="RefusedException">What was done since the backup is not taken up yet.</exception>
    internal void DemandSettled()
    {
        if (From is { } at) throw new RefusedException($"This book came back from a backup of {cache.Get(db).Local(at)}: what was issued after that it does not know, and would pay again. Bring in what banks and wallets did since under Results, mark what was paid, and say there that it is taken up.");
    }

    private void Mark(DateTimeOffset at, string by)
    {
        using var transaction = db.Database.BeginTransaction();
        var book = db.Book.Single();
        book.Mark = RandomNumberGenerator.GetString(MarkLetters, MarkLength);
        book.RestoredFrom = at;
        book.RulesVersion++;
        audit.Note(by, "bring the book back from a backup", $"of {at:yyyy-MM-dd HH:mm:ss}Z; payments are marked {book.Mark} from here on");
        db.SaveChanges();
        // Who was signed in then is not now.
        db.Sessions.ExecuteDelete();
        transaction.Commit();
    }
}
