using System.Security.Cryptography;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace EvenSplit.Books;

/// <summary>Why a book cannot be worked on, in words that say what to do. Found out before any work is taken on.</summary>
public static class BookTrouble
{
    private const int Full = 13, ReadOnly = 8, CannotRead = 10, Corrupt = 11, NoDatabase = 26, CannotOpen = 14;

    /// <summary>Below this nothing is begun.</summary>
    private const long FewestFreeBytes = 50L * 1024 * 1024;

    /// <summary>Clocks of machines that are set by the network differ by less.</summary>
    private static readonly TimeSpan Tolerance = TimeSpan.FromMinutes(5);

    private static readonly byte[] DatabaseHead = "SQLite format 3\0"u8.ToArray();

    /// <summary>What is wrong with the folder and the files in it; null where they can be worked with.</summary>
    /// <param name="withNewKeys">Whether the lead knows that the old keys are lost.</param>
    public static string? OfPlace(BookPlace place, bool withNewKeys) => OfFolder(place) ?? OfDatabase(place, withNewKeys);

    /// <summary>Keeps every other server from the book for as long as it is held.</summary>
    /// <returns>Null where another server has it.</returns>
    public static IDisposable? Hold(BookPlace place)
    {
        try
        {
            return new FileStream(place.Lock, FileMode.OpenOrCreate, FileAccess.ReadWrite, FileShare.None);
        }
        catch (IOException)
        {
            return null;
        }
    }

    public static string OfAnother(BookPlace place) => $"Another Even Split serves the book in {place.Folder} already. A book has one server: stop the other one, or use it.";

    /// <summary>What a failure of the database or the disk means; null for any other.</summary>
    public static string? Of(Exception? failure) => failure switch
    {
        SqliteException { SqliteErrorCode: Full } => "The disk is full. Nothing of this was kept. Free some room on it, then do it again.",
        SqliteException { SqliteErrorCode: ReadOnly } => "The book's files can only be read, so nothing was kept. The right to write them, or the disk they lie on, has been changed.",
        SqliteException { SqliteErrorCode: CannotRead or CannotOpen } => "The disk does not read or write the book's files. Nothing of this was kept. See to the disk before you go on.",
        SqliteException { SqliteErrorCode: Corrupt or NoDatabase } => "The book's database is damaged. Stop the application, keep the folder as it is, and bring the last backup back with ./evensplit restore into another folder.",
        IOException { HResult: 28 } => "The disk is full. Nothing of this was kept. Free some room on it, then do it again.",
        { InnerException: { } inner } => Of(inner),
        _ => null,
    };

    /// <summary>What is wrong with the keys or the clock of a book that opens; null where nothing is.</summary>
    /// <param name="withNewKeys">Whether the keys that are there now are the book's from here on.</param>
    public static string? OfKeysAndClock(IServiceProvider services, bool withNewKeys)
    {
        using var scope = services.CreateScope();
        var (db, place) = (scope.ServiceProvider.GetRequiredService<BookDbContext>(), services.GetRequiredService<BookPlace>());
        if (db.Book.AsNoTracking().SingleOrDefault() is not { } book) return null;
        var protector = services.GetRequiredService<IDataProtectionProvider>().CreateProtector("EvenSplit.KeyProof");
        if (book.KeyProof.Length == 0 || (withNewKeys && !Opens(protector, book.KeyProof)))
        {
            if (book.KeyProof.Length > 0) TakeSignInsAway(scope.ServiceProvider);
            var proof = protector.Protect(book.Name);
            db.Book.ExecuteUpdate(set => set.SetProperty(b => b.KeyProof, proof));
        }
        else if (!Opens(protector, book.KeyProof))
        {
            return $"The keys in {place.Keys} are not those of this book: payout details and stored payment files do not open with them. Bring the folder keys back from a backup. Where it is lost for good, start once with --new-keys: the details have to be given anew, shops get new secrets, and whoever signs in with a code of an app sets it up anew.";
        }
        // The clock of a demonstration is moved by hand.
        var last = db.Audit.AsNoTracking().OrderByDescending(a => a.Id).Select(a => (DateTimeOffset?)a.At).FirstOrDefault();
        var now = TimeProvider.System.GetUtcNow();
        return book.DemoToday is null && last > now + Tolerance
            ? $"The machine's clock says {now:yyyy-MM-dd HH:mm}Z, and the book was last written at {last:yyyy-MM-dd HH:mm}Z. What would be posted now would stand before what is posted already. Set the clock right, then start again."
            : null;
    }

    /// <summary>What the lost keys had sealed opens no more: who had an app signs in with the password, and is asked to set a second factor up anew.</summary>
    private static void TakeSignInsAway(IServiceProvider services)
    {
        var db = services.GetRequiredService<BookDbContext>();
        var apps = db.Users.Where(u => u.TwoFactorEnabled).ExecuteUpdate(set => set.SetProperty(u => u.TwoFactorEnabled, false));
        apps += db.Set<PayeeLogin>().Where(u => u.TwoFactorEnabled).ExecuteUpdate(set => set.SetProperty(u => u.TwoFactorEnabled, false));
        db.UserTokens.ExecuteDelete();
        db.Set<PayeeLoginToken>().ExecuteDelete();
        services.GetRequiredService<AuditLog>().NoteAlone("the machine", "go on with new keys", $"{MoneyWords.Count(apps, "authenticator app")} to be set up anew");
    }

    private static string? OfFolder(BookPlace place)
    {
        try
        {
            Directory.CreateDirectory(place.Folder);
            var probe = Path.Combine(place.Folder, $".probe-{Guid.NewGuid():N}");
            File.WriteAllText(probe, "");
            File.Delete(probe);
        }
        catch (Exception fault) when (fault is IOException or UnauthorizedAccessException)
        {
            return $"The folder {place.Folder} cannot be written: {fault.Message} Give the application's user the right to write there, or mount the disk for writing.";
        }
        var free = new DriveInfo(place.Folder).AvailableFreeSpace;
        return free < FewestFreeBytes ? $"The disk of {place.Folder} has {free / 1024 / 1024} MB left; at least {FewestFreeBytes / 1024 / 1024} MB are needed to work safely. Free some room on it, then start again." : null;
    }

    private static string? OfDatabase(BookPlace place, bool withNewKeys)
    {
        var hasKeys = Directory.Exists(place.Keys) && Directory.EnumerateFiles(place.Keys, "key-*.xml").Any();
        if (!File.Exists(place.Database) || new FileInfo(place.Database).Length == 0)
        {
            // The keys are made after the database, and only for one.
            return hasKeys ? $"{place.Database} is {(File.Exists(place.Database) ? "empty" : "missing")}, though the keys of a book are here. Bring the book back from a backup with ./evensplit restore into another folder; do not start a new one here." : null;
        }
        try
        {
            using (var file = new FileStream(place.Database, FileMode.Open, FileAccess.ReadWrite, FileShare.ReadWrite | FileShare.Delete))
            {
                var head = new byte[DatabaseHead.Length];
                if (file.ReadAtLeast(head, head.Length, throwOnEndOfStream: false) < head.Length || !head.AsSpan().SequenceEqual(DatabaseHead)) return Of(new SqliteException("", NoDatabase));
            }
            using var connection = new SqliteConnection(new SqliteConnectionStringBuilder { DataSource = place.Database, Pooling = false }.ToString());
            connection.Open();
            using var command = connection.CreateCommand();
            command.CommandText = "SELECT COUNT(*) FROM sqlite_master";
            command.ExecuteScalar();
        }
        catch (UnauthorizedAccessException fault)
        {
            return $"{place.Database} cannot be written: {fault.Message} Give the application's user the right to write it.";
        }
        catch (SqliteException fault)
        {
            return Of(fault) ?? $"The book's database does not open: {fault.Message}";
        }
        return hasKeys || withNewKeys || !HasSealed(place) ? null : $"The keys of this book are missing from {place.Keys}: payout details and stored payment files do not open without them. Bring the folder keys back from a backup. If it is lost for good, start once with --new-keys: the details have to be given anew, shops get new secrets, and whoever signs in with a code of an app sets it up anew.";
    }

    private static bool HasSealed(BookPlace place)
    {
        using var connection = new SqliteConnection(new SqliteConnectionStringBuilder { DataSource = place.Database, Pooling = false }.ToString());
        connection.Open();
        using var command = connection.CreateCommand();
        command.CommandText = "SELECT COUNT(*) FROM sqlite_master WHERE type = 'table' AND name = 'PayoutDetails'";
        if ((long)command.ExecuteScalar()! == 0) return false;
        command.CommandText = "SELECT EXISTS (SELECT 1 FROM PayoutDetails)";
        return (long)command.ExecuteScalar()! == 1;
    }

    private static bool Opens(IDataProtector protector, string proof)
    {
        try
        {
            protector.Unprotect(proof);
            return true;
        }
        catch (CryptographicException)
        {
            return false;
        }
    }
}
