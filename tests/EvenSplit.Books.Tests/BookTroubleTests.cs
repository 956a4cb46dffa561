using EvenSplit.Books.Model;
using EvenSplit.Books.Payouts;
using Microsoft.AspNetCore.Identity;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using static EvenSplit.Books.Tests.TestBook;

namespace EvenSplit.Books.Tests;

/// <summary>Each state of a bad day is told in words, before any work is taken on.</summary>
public sealed class BookTroubleTests : IDisposable
{
    private readonly BookPlace _place = new(Directory.CreateTempSubdirectory("evensplit-trouble-").FullName);

    public void Dispose()
    {
        SqliteConnection.ClearAllPools();
        Directory.Delete(_place.Folder, recursive: true);
    }

    private string? OfPlace(bool withNewKeys = false) => BookTrouble.OfPlace(_place, withNewKeys);

    /// <summary>What a statement may have to undo is kept in memory; SQLite cannot write a portion of 128 KB or more of it to a file, and calls that a full disk.</summary>
    [Fact]
    public void A_statement_may_change_tens_of_megabytes()
    {
        using var book = new TestBook();
        book.Do<BookDbContext>(db =>
        {
            db.Database.ExecuteSqlRaw("CREATE TABLE Large (Id INTEGER PRIMARY KEY, Text BLOB NOT NULL)");
            db.Database.ExecuteSqlRaw("WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 8000) INSERT INTO Large SELECT i, randomblob(4000) FROM n");
            using var transaction = db.Database.BeginTransaction();
            transaction.CreateSavepoint("before");
            db.Database.ExecuteSqlRaw("UPDATE Large SET Text = zeroblob(4000)");
            transaction.RollbackToSavepoint("before");
            db.Database.ExecuteSqlRaw("UPDATE Large SET Text = zeroblob(4000) WHERE Id > 100");
            transaction.Commit();
            Assert.Equal(7900, db.Database.SqlQueryRaw<int>("SELECT COUNT(*) AS Value FROM Large WHERE Text = zeroblob(4000)").Single());
        });
    }

    [Fact]
    public void A_new_folder_is_fine() => Assert.Null(OfPlace());

    [Fact]
    public void A_folder_that_cannot_be_written_is_told()
    {
        var file = Path.Combine(_place.Folder, "a-file");
        File.WriteAllText(file, "");
        Assert.Contains("cannot be written", BookTrouble.OfPlace(new BookPlace(Path.Combine(file, "book")), false), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData(false, "missing")]
    [InlineData(true, "empty")]
    public void A_database_that_is_gone_while_its_keys_are_there_is_not_begun_anew(bool isEmpty, string word)
    {
        Directory.CreateDirectory(_place.Keys);
        File.WriteAllText(Path.Combine(_place.Keys, "key-1.xml"), "<key/>");
        if (isEmpty) File.WriteAllBytes(_place.Database, []);
        Assert.Contains($"is {word}, though the keys", OfPlace(), StringComparison.Ordinal);
    }

    [Fact]
    public void A_damaged_database_is_told()
    {
        File.WriteAllText(_place.Database, "this is no database, but long enough to look like one");
        Assert.Contains("damaged", OfPlace(), StringComparison.Ordinal);
        using (var connection = new SqliteConnection($"Data Source={_place.Database}.whole;Pooling=False"))
        {
            connection.Open();
            using var command = connection.CreateCommand();
            command.CommandText = "CREATE TABLE T (A TEXT); INSERT INTO T VALUES ('a');";
            command.ExecuteNonQuery();
        }
        var bytes = File.ReadAllBytes(_place.Database + ".whole");
        bytes.AsSpan(100, 1000).Fill(0xA5);
        File.WriteAllBytes(_place.Database, bytes);
        Assert.Contains("damaged", OfPlace(), StringComparison.Ordinal);
    }

    [Fact]
    public void One_server_at_a_time()
    {
        using (BookTrouble.Hold(_place))
        {
            Assert.Null(BookTrouble.Hold(_place));
        }
        using var again = BookTrouble.Hold(_place);
        Assert.NotNull(again);
    }

    [Fact]
    public void Keys_that_are_missing_or_of_another_book_are_told_and_new_ones_are_taken_only_when_said_so()
    {
        using var book = new TestBook();
        Assert.Empty(book.Get<PayoutDetails, IReadOnlyList<Forms.FieldFault>>(d => d.Propose("anna", new PayoutDetailsDraft { Holder = "Anna", Iban = "IE29AIBK93115212345678", Bic = "AIBKIE2D" }, Lead)));
        string? Keys(bool withNewKeys = false)
        {
            using var services = EmptyFolder.ServicesOf(book.Place);
            return BookTrouble.OfKeysAndClock(services, withNewKeys);
        }
        Assert.Null(Keys());
        Assert.Null(BookTrouble.OfPlace(book.Place, false));
        book.Do<BookDbContext>(db =>
        {
            db.Users.Add(new BookUser { Id = "u", UserName = "lena", DisplayName = Lead, TwoFactorEnabled = true });
            db.UserTokens.Add(new IdentityUserToken<string> { UserId = "u", LoginProvider = "[AspNetUserStore]", Name = "AuthenticatorKey", Value = "sealed:lost" });
            db.SaveChanges();
        });
        var keys = Directory.GetFiles(book.Place.Keys, "key-*.xml");
        foreach (var key in keys) File.Move(key, key + ".lost");
        Assert.Contains("keys of this book are missing", BookTrouble.OfPlace(book.Place, false), StringComparison.Ordinal);
        Assert.Null(BookTrouble.OfPlace(book.Place, withNewKeys: true));
        // Others are made where none are; they do not open what the book has sealed.
        Assert.Contains("are not those of this book", Keys(), StringComparison.Ordinal);
        Assert.True(book.Get<BookDbContext, bool>(db => db.Users.Any(u => u.TwoFactorEnabled)));
        Assert.Null(Keys(withNewKeys: true));
        Assert.Null(Keys());
        // No app of anybody opens any more: each is asked to set one up anew.
        Assert.False(book.Get<BookDbContext, bool>(db => db.Users.Any(u => u.TwoFactorEnabled) || db.UserTokens.Any()));
        Assert.Equal("1 authenticator app to be set up anew", book.Get<BookDbContext, string>(db => db.Audit.Single(a => a.Action == "go on with new keys").Subject));
    }

    [Fact]
    public void A_clock_set_back_is_told()
    {
        using var book = new TestBook();
        // A real book: a demonstration's clock is moved by hand.
        book.Do<BookDbContext>(db => db.Book.ExecuteUpdate(set => set.SetProperty(b => b.DemoToday, (DateOnly?)null).SetProperty(b => b.RulesVersion, b => b.RulesVersion + 1)));
        string? Clock()
        {
            using var services = EmptyFolder.ServicesOf(book.Place);
            return BookTrouble.OfKeysAndClock(services, false);
        }
        Assert.Null(Clock());
        book.Do<BookDbContext>(db =>
        {
            db.Audit.Add(new AuditRecord { At = DateTimeOffset.UtcNow.AddDays(2), By = "Lena", Action = "do something", Subject = "later" });
            db.SaveChanges();
        });
        Assert.Contains("Set the clock right", Clock(), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData(13, "disk is full")]
    [InlineData(8, "only be read")]
    [InlineData(10, "does not read or write")]
    [InlineData(11, "damaged")]
    public void What_the_database_says_of_the_disk_is_told_in_words(int code, string words) =>
        Assert.Contains(words, BookTrouble.Of(new DbUpdateException("", new SqliteException("", code))), StringComparison.Ordinal);

    [Fact]
    public void Any_other_failure_is_none_of_these() => Assert.Null(BookTrouble.Of(new InvalidOperationException("", new SqliteException("", 19))));

    [Fact]
    public void What_a_stop_cut_off_is_swept_and_what_is_noted_stays()
    {
        using var folder = new EmptyFolder();
        folder.Services.PrepareBook();
        string Put(string name, int hoursOld)
        {
            var path = Path.Combine(folder.Place.Uploads, name);
            File.WriteAllText(path, "a");
            File.SetLastWriteTimeUtc(path, DateTime.UtcNow.AddHours(-hoursOld));
            return path;
        }
        var (part, forgotten, fresh, noted) = (Put("a.csv.part", 0), Put("b.csv", 2), Put("c.csv", 0), Put("d.csv", 2));
        folder.Do("INSERT INTO Imports (Kind, FileName, StoredAs, State, Bytes, BytesRead, Rows, Added, Changed, Unchanged, Quarantined, ColumnNames, ExtraColumns, By, At) VALUES (0, 'd.csv', 'd.csv', 0, 1, 0, 0, 0, 0, 0, 0, '', '', 'Lena', 0)");
        folder.Services.SweepUploads();
        Assert.Equal((false, false, true, true), (File.Exists(part), File.Exists(forgotten), File.Exists(fresh), File.Exists(noted)));
    }
}
