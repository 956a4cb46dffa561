using EvenSplit.Books.Checking;
using EvenSplit.Books.Migrations;
using EvenSplit.Books.Model;
using EvenSplit.Books.Posting;
using EvenSplit.Books.Reconcile;
using EvenSplit.Books.Scenarios;
using EvenSplit.Core;
using EvenSplit.Formats.Scenarios;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Tests;

/// <summary>A book made by an earlier version of the application is brought to this one. A migration that books have gone through is never replaced.</summary>
public sealed class MigrationTests
{
    /// <summary>A book as the version of 25 Nov 2026 made it: sales, ladders, runs in four currencies.</summary>
    [Theory]
    [InlineData("08-runs-currencies-advances")]
    [InlineData("07-ladder-chargeback-allowance")]
    public void A_book_of_that_day_is_brought_to_this_one_and_holds_what_it_held(string sample)
    {
        using var book = new BookFromDump(Path.Combine(AppContext.BaseDirectory, "Books", $"{sample}.sql"));
        using var file = File.OpenRead(Path.Combine(AppContext.BaseDirectory, "samples", $"{sample}.json"));
        var (expected, held) = (ScenarioBook.Items(WholeBook.WorkOut(ScenarioReader.Read(file))), ScenarioBook.Items(book.Get<BookResults, BookResult>(r => r.Read())));
        Assert.All(expected.Keys, section => Assert.Equal(expected[section], held[section]));
        Assert.False(book.Get<BookDbContext, bool>(db => db.Database.HasPendingModelChanges()));
        Assert.Equal(0, book.Get<BookDbContext, int>(db => db.EntrySums.Count(s => s.Fingerprint < 0)));
        // What the database holds entries to, as in a new book.
        using var made = new TestBook();
        Assert.Equal(made.Get<BookDbContext, string>(SchemaOfEntries), book.Get<BookDbContext, string>(SchemaOfEntries));
        foreach (var (order, payee) in new (long?, string?)[] { (-1, null), (null, "nobody") })
        {
            var refused = Assert.Throws<SqliteException>(() => book.Do<BookDbContext>(db => db.Database.ExecuteSql(
                $"""
                INSERT INTO Entries (OrderId, LineNumber, Payee, Agreement, Part, Amount, Currency, PostedOn, Period, OpenSince)
                SELECT COALESCE({order}, OrderId), LineNumber, COALESCE({payee}, Payee), Agreement, Part, 1, Currency, PostedOn, Period, 99 FROM Entries LIMIT 1
                """)));
            Assert.Contains("FOREIGN KEY", refused.Message);
        }
        // And as it was before, beside it.
        Assert.Single(Directory.GetFiles(book.Place.Before, "*.db"));
        // The same file brought in again is still seen to say nothing new.
        book.Do<BookDbContext>(db => Assert.All(db.Orders.WithParts().ToArray(), o => Assert.Equal(o.FactsHash, OrderFacts.HashOf(OrderFacts.ToOrder(o)))));
        Assert.Equal(0, book.Get<BookCheck, CheckResult>(c => c.Run()).Differences);
    }

    /// <summary>As versions before the fourth of December left them: some rows in the sums of days, the rest waiting for it.</summary>
    [Theory]
    [InlineData(0)]
    [InlineData(20)]
    public void Rows_that_waited_for_the_sums_of_days_are_added(int most)
    {
        using var book = new ScenarioBook(ScenarioBook.Random(1900, 40));
        book.Do<FindMatches>(m => m.RunAll());
        book.Do<BookDbContext>(db => db.Database.ExecuteSqlRaw(
            """
            INSERT INTO Bookings (OrderId, "On", Period, Processor, Channel, Currency, Goods, Shipping, Tax, ProcessingFee, ChannelFee, Rebate)
            VALUES (1, '2026-10-05', 24321, ' Tills: north;  hall ', 'fair|stall', 'EUR', 900, 50, 40, 30, 20, 10), (1, '2026-10-06', 24321, '', 'fair|stall', 'EUR', -900, 0, -40, 0, -20, 0)
            """));
        var (before, all) = (new KeptJournalDays(), new KeptJournalDays());
        book.Do<BookDbContext>(db =>
        {
            foreach (var entry in db.Entries)
            {
                all.AddEntry(entry.PostedOn, entry.Payee, entry.Currency, entry.Amount);
                if (entry.Id <= most) before.AddEntry(entry.PostedOn, entry.Payee, entry.Currency, entry.Amount);
            }
            foreach (var booking in db.Bookings)
            {
                all.AddBooking(booking);
                if (booking.Id <= most) before.AddBooking(booking);
            }
            db.JournalDays.ExecuteDelete();
            db.JournalDays.AddRange(before.Sums);
            db.SaveChanges();
            db.Database.ExecuteSqlRaw("CREATE TABLE JournalMarks (Kind INTEGER NOT NULL CONSTRAINT PK_JournalMarks PRIMARY KEY, AddedTo INTEGER NOT NULL) STRICT, WITHOUT ROWID");
            if (most > 0) db.Database.ExecuteSql($"INSERT INTO JournalMarks VALUES (0, {most}), (1, {most})");
            db.Database.ExecuteSqlRaw(DaysWithTheirRows.Rows);
        });
        Assert.Equal(Words(all.Sums), book.Get<BookDbContext, string[]>(db => Words(db.JournalDays.AsNoTracking())));

        static string[] Words(IEnumerable<JournalDayRecord> days) => [.. days.Select(d => $"{d.On} {d.Kind} {d.Of} {d.Currency} {d.Debit} {d.Credit} {d.Postings}").Order(StringComparer.Ordinal)];
    }

    private static string SchemaOfEntries(BookDbContext db) => db.Database.SqlQueryRaw<string>("SELECT substr(sql, instr(sql, '(')) AS Value FROM sqlite_master WHERE name = 'Entries'").Single();

    [Fact]
    public void A_book_from_before_that_day_and_one_of_a_later_version_are_refused_in_words()
    {
        Assert.Contains("before 25 Nov 2026", Opening("20261123162640_FirstBook").Message);
        Assert.Contains("later version", Opening("20261125131220_ReversalsOfRuns", "29990101000000_Later").Message);

        RefusedException Opening(params string[] migrations)
        {
            using var folder = new EmptyFolder();
            folder.Do($"CREATE TABLE __EFMigrationsHistory (MigrationId TEXT NOT NULL PRIMARY KEY, ProductVersion TEXT NOT NULL); {string.Concat(migrations.Select(m => $"INSERT INTO __EFMigrationsHistory VALUES ('{m}', '10.0');"))}");
            return Assert.Throws<RefusedException>(() => folder.Services.PrepareBook());
        }
    }

    /// <summary>Each guard stands in a new book, and one that is gone or was changed is put back as the book is opened.</summary>
    [Fact]
    public void Guards_are_made_anew_whenever_they_are_not_as_the_file_has_them()
    {
        using var book = new TestBook();
        string[] Guards() => book.Get<BookDbContext, string[]>(db => [.. DatabaseGuards.Present(db).Select(g => $"{g.Key}: {g.Value}").Order(StringComparer.Ordinal)]);
        var guards = Guards();
        Assert.Equal(DatabaseGuards.Wanted.Keys.Order(StringComparer.Ordinal), guards.Select(g => g[..g.IndexOf(':', StringComparison.Ordinal)]));
        Assert.Equal(108, guards.Length);
        book.Do<BookDbContext>(db => db.Database.ExecuteSqlRaw("DROP TRIGGER Entries_NoDelete; DROP TRIGGER Audit_NoUpdate; CREATE TRIGGER Audit_NoUpdate BEFORE UPDATE ON Audit BEGIN SELECT 1; END;"));
        book.Do<BookDbContext>(DatabaseGuards.Renew);
        Assert.Equal(guards, Guards());
    }
}
