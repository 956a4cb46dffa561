using EvenSplit.Books.Model;
using EvenSplit.Books.Posting;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace EvenSplit.Books;

/// <summary>Creates a book's database or brings it to this version.</summary>
public static class BookOpening
{
    /// <returns>Whether an existing book was brought to this version: then it is to be checked.</returns>
    /// <exception cref="RefusedException">The book is of a version that this one cannot bring up to date.</exception>
    public static bool PrepareBook(this IServiceProvider services)
    {
        var place = services.GetRequiredService<BookPlace>();
        Directory.CreateDirectory(place.Uploads);
        Directory.CreateDirectory(place.Keys);
        if (!OperatingSystem.IsWindows()) File.SetUnixFileMode(place.Keys, UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute);
        using var db = services.GetRequiredService<IDbContextFactory<BookDbContext>>().CreateDbContext();
        var (known, applied) = (db.Database.GetMigrations().ToArray(), PlainQuery.AppliedMigrations(db));
        if (applied.Length > 0 && !applied.Contains(known[0]))
        {
            throw new RefusedException($"This book was made before 25 Nov 2026 and was not opened since; open it once with a version of that day, then with this one.");
        }
        if (applied.Except(known).LastOrDefault() is { } later && string.CompareOrdinal(later, known[^1]) > 0)
        {
            throw new RefusedException("This book was opened with a later version of the application; this one does not know what it holds.");
        }
        var isOld = applied.Length > 0 && known.Except(applied).Any();
        if (isOld) CopyBefore(db, place, applied[^1]);
        // Where there is nothing to do, finding that out would take a fifth of the start.
        if (isOld || applied.Length == 0) db.Database.Migrate();
        TakeFingerprints(db);
        if (PlainQuery.IsAny(db, "SELECT EXISTS (SELECT 1 FROM PayoutDetails WHERE NOT IsBound)")) services.GetRequiredService<IServiceScopeFactory>().SealOld<Payouts.Sealed>((s, db) => s.BindOld(db));
        if (PlainQuery.IsAny(db, "SELECT EXISTS (SELECT 1 FROM AspNetUserTokens WHERE Value NOT LIKE 'sealed:%') OR EXISTS (SELECT 1 FROM PayeeLoginTokens WHERE Value NOT LIKE 'sealed:%')")) services.GetRequiredService<IServiceScopeFactory>().SealOld<SealedTokens>((s, db) => s.CloseOld(db));
        DatabaseGuards.Renew(db);
        if (PlainQuery.IsAny(db, "SELECT EXISTS (SELECT 1 FROM Audit WHERE Id = (SELECT MIN(Id) FROM Audit) AND Hash = '')")) Record.RecordChain.Begin(db);
        db.RefreshStatistics();
        return isOld;
    }

    /// <summary>Keeps the database as it was before this version changes it; of earlier such copies only the last is kept.</summary>
    private static void CopyBefore(BookDbContext db, BookPlace place, string version)
    {
        Directory.CreateDirectory(place.Before);
        var copies = Directory.GetFiles(place.Before, "*.db").Order(StringComparer.Ordinal).ToArray();
        foreach (var old in copies.SkipLast(1)) File.Delete(old);
        var part = Path.Combine(place.Before, "copy.part");
        File.Delete(part);
        Backups.BookBackup.CopyDatabase(db, part);
        File.Move(part, Path.Combine(place.Before, $"{version}.db"), overwrite: true);
    }

    /// <summary>Removes what was half written, or not noted yet, when the server stopped. Only for the server itself, before it takes anything in.</summary>
    public static void SweepUploads(this IServiceProvider services)
    {
        var place = services.GetRequiredService<BookPlace>();
        using var db = services.GetRequiredService<IDbContextFactory<BookDbContext>>().CreateDbContext();
        foreach (var part in new[] { place.Uploads, place.AsTheyCame }.Where(Directory.Exists).SelectMany(f => Directory.EnumerateFiles(f, "*.part"))) File.Delete(part);
        foreach (var file in Directory.EnumerateFiles(place.Uploads, "*.csv").Select(f => Path.GetFileName(f)!))
        {
            // One that another process has just brought in may not be noted yet.
            if (File.GetLastWriteTimeUtc(Path.Combine(place.Uploads, file)) < DateTime.UtcNow.AddHours(-1) && !db.Imports.Any(i => i.StoredAs == file)) File.Delete(Path.Combine(place.Uploads, file));
        }
    }

    /// <summary>Lets the database look at a sample of the tables that have grown, so that it knows which index serves a query. Connections see it when they are opened anew.</summary>
    internal static void RefreshStatistics(this BookDbContext db) => db.Database.ExecuteSqlRaw("PRAGMA analysis_limit = 1000; PRAGMA optimize = 0x10002;");

    /// <summary>Whether a book can be read as it is, without being brought to this version first.</summary>
    public static bool IsOfThisVersion(this IServiceProvider services)
    {
        using var db = services.GetRequiredService<IDbContextFactory<BookDbContext>>().CreateDbContext();
        return PlainQuery.AppliedMigrations(db).LastOrDefault() == db.Database.GetMigrations().Last();
    }

    private static void SealOld<T>(this IServiceScopeFactory scopes, Action<T, BookDbContext> seal) where T : notnull
    {
        using var scope = scopes.CreateScope();
        seal(scope.ServiceProvider.GetRequiredService<T>(), scope.ServiceProvider.GetRequiredService<BookDbContext>());
    }

    /// <summary>Fingerprints of entries that were posted before they were kept.</summary>
    private static void TakeFingerprints(BookDbContext db)
    {
        if (!PlainQuery.IsAny(db, "SELECT EXISTS (SELECT 1 FROM EntrySums WHERE Fingerprint < 0) OR EXISTS (SELECT 1 FROM OpenSums WHERE Fingerprint < 0) OR EXISTS (SELECT 1 FROM TakenSums WHERE Fingerprint < 0)")) return;
        using var transaction = db.Database.BeginTransaction();
        var sums = new Dictionary<(int, string, string, bool), long>();
        var clearing = new Dictionary<(int, string, string, DateOnly), long>();
        foreach (var entry in db.Entries.AsNoTracking())
        {
            var key = (entry.Period, entry.Payee, entry.Currency, entry.RefundId is not null);
            sums[key] = EntryFingerprint.Add(sums.GetValueOrDefault(key), EntryFingerprint.Of(entry));
            var day = (entry.RunId ?? 0, entry.Payee, entry.Currency, entry.ClearsOn ?? DateOnly.MaxValue);
            clearing[day] = EntryFingerprint.Add(clearing.GetValueOrDefault(day), EntryFingerprint.Of(entry));
        }
        foreach (var sum in db.EntrySums.Where(s => s.Fingerprint < 0).ToArray()) sum.Fingerprint = sums.GetValueOrDefault((sum.Period, sum.Payee, sum.Currency, sum.IsReversal));
        foreach (var sum in db.OpenSums.Where(s => s.Fingerprint < 0).ToArray()) sum.Fingerprint = clearing.GetValueOrDefault((0, sum.Payee, sum.Currency, sum.ClearsOn));
        foreach (var sum in db.TakenSums.Where(s => s.Fingerprint < 0).ToArray()) sum.Fingerprint = clearing.GetValueOrDefault((sum.RunId, sum.Payee, sum.Currency, sum.ClearsOn));
        db.SaveChanges();
        transaction.Commit();
    }
}
