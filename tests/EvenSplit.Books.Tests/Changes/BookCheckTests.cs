using EvenSplit.Books.Checking;
using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace EvenSplit.Books.Tests.Changes;

/// <summary>Whatever of a book is changed behind its back, the check finds it and says where.</summary>
public sealed class BookCheckTests : IDisposable
{
    private readonly ScenarioBook _book = new(ScenarioBook.Random(17, 60));

    public void Dispose() => _book.Dispose();

    [Fact]
    public void A_book_that_nobody_touched_agrees_with_itself()
    {
        var result = Check();
        Assert.Equal(0, result.Differences);
        Assert.All(result.Lines, l => Assert.NotEqual("", l.Kept + l.WorkedOut));
        Assert.Equal(27, result.Lines.Count);
        // Runs were paid, progress was counted: there was something to compare.
        Assert.DoesNotContain(result.Lines, l => l.Name is "Runs" or "Progress of payees" or "Entries" && l.Kept is "nothing" or "0 events");
    }

    /// <summary>One row of each kind that is kept, one figure of it moved by one, with the guards off.</summary>
    [Theory]
    [InlineData("UPDATE Entries SET Amount = Amount + 1 WHERE Id = (SELECT MAX(Id) FROM Entries)", "Entries", "Sums of entries")]
    [InlineData("UPDATE Entries SET Amount = Amount + 1 WHERE Id = (SELECT MIN(Id) FROM PostedEntries WHERE RunId IS NOT NULL)", "Entries", "Runs")]
    [InlineData("UPDATE Entries SET Payee = (SELECT Id FROM Payees WHERE Id <> Payee LIMIT 1) WHERE Id = 1", "Entries", "Sums of entries")]
    [InlineData("UPDATE Entries SET PostedOn = date(PostedOn, CASE WHEN strftime('%d', PostedOn) = '01' THEN '+1 day' ELSE '-1 day' END) WHERE Id = 1", "Sums of entries")]
    [InlineData("UPDATE Entries SET Period = Period + 1 WHERE Id = 1", "Months of entries")]
    [InlineData("UPDATE Entries SET ClearsOn = date(ClearsOn, '+1 day') WHERE Id = (SELECT MIN(Id) FROM PostedEntries WHERE RunId IS NULL AND ClearsOn IS NOT NULL)", "Days of clearing", "Sums of what is open")]
    [InlineData("UPDATE Entries SET ClearsOn = date(ClearsOn, '-1 day') WHERE Id = (SELECT MIN(Id) FROM PostedEntries WHERE RunId IS NOT NULL)", "Sums of what runs took")]
    [InlineData("UPDATE Entries SET OpenSince = 1000 WHERE Id = (SELECT MIN(Id) FROM PostedEntries WHERE RunId IS NOT NULL)", "Runs", "Sums of what is open")]
    [InlineData("UPDATE Takings SET AsOf = '2999-01-01' WHERE Id = (SELECT MAX(Id) FROM Takings WHERE Payee = (SELECT Payee FROM PostedEntries WHERE RunId IS NULL AND ClearsOn IS NOT NULL LIMIT 1))", "Sums of what is open", "Sums of what runs took")]
    [InlineData("DELETE FROM Takings WHERE Id = (SELECT MIN(t.Id) FROM Takings t JOIN PostedEntries e ON e.RunId = t.RunId AND e.Payee = t.Payee)", "Sums of what runs took")]
    [InlineData("UPDATE TakenSums SET Amount = Amount + 1 WHERE (RunId, Payee, Currency, ClearsOn) = (SELECT RunId, Payee, Currency, ClearsOn FROM TakenSums LIMIT 1)", "Sums of what runs took")]
    [InlineData("UPDATE Entries SET Agreement = Agreement || 'x' WHERE Id = 1", "Entries")]
    [InlineData("DELETE FROM Entries WHERE Id = 1", "Entries", "Sums of entries")]
    [InlineData("UPDATE Orders SET House = House + 1 WHERE Id = (SELECT MIN(Id) FROM Orders WHERE Status = 0)", "Figures of orders", "Sums of months")]
    [InlineData("UPDATE Orders SET Period = Period + 1 WHERE Id = 1", "Figures of orders")]
    [InlineData("UPDATE Orders SET AttributedTo = NULL WHERE Id = (SELECT MIN(Id) FROM Orders WHERE AttributedTo IS NOT NULL)", "Figures of orders")]
    [InlineData("UPDATE Orders SET Exceptions = Exceptions + 1 WHERE Id = (SELECT MAX(Id) FROM Orders)", "Counts of exceptions")]
    [InlineData("DELETE FROM OrderExceptions WHERE Id = (SELECT MIN(Id) FROM OrderExceptions)", "Exceptions")]
    [InlineData("UPDATE PeriodTotals SET Vendors = Vendors + 1 WHERE rowid = (SELECT MIN(rowid) FROM PeriodTotals)", "Sums of months")]
    [InlineData("UPDATE EntrySums SET Entries = Entries + 1 WHERE (Period, Payee, Currency, IsReversal) = (SELECT Period, Payee, Currency, IsReversal FROM EntrySums LIMIT 1)", "Sums of entries")]
    [InlineData("UPDATE EntrySums SET Fingerprint = Fingerprint + 1 WHERE (Period, Payee, Currency, IsReversal) = (SELECT Period, Payee, Currency, IsReversal FROM EntrySums LIMIT 1)", "Sums of entries")]
    [InlineData("UPDATE OpenSums SET Amount = Amount + 1 WHERE (Payee, Currency, ClearsOn) = (SELECT Payee, Currency, ClearsOn FROM OpenSums LIMIT 1)", "Sums of what is open")]
    [InlineData("DELETE FROM OpenSums WHERE (Payee, Currency, ClearsOn) = (SELECT Payee, Currency, ClearsOn FROM OpenSums WHERE Amount <> 0 LIMIT 1)", "Sums of what is open")]
    [InlineData("UPDATE JournalDays SET Debit = Debit + 1 WHERE (\"On\", Kind, Of, Currency) = (SELECT \"On\", Kind, Of, Currency FROM JournalDays LIMIT 1)", "Days of the journal")]
    [InlineData("DELETE FROM JournalDays WHERE (\"On\", Kind, Of, Currency) = (SELECT \"On\", Kind, Of, Currency FROM JournalDays LIMIT 1)", "Days of the journal")]
    [InlineData("UPDATE ProgressEvents SET Sales = Sales + 1 WHERE (Payee, Agreement, Currency, At, IsRefund, EventId) = (SELECT Payee, Agreement, Currency, At, IsRefund, EventId FROM ProgressEvents LIMIT 1)", "Progress of payees")]
    [InlineData("UPDATE ProgressDays SET HighestOrders = HighestOrders + 1 WHERE (Payee, Agreement, Currency, \"On\") = (SELECT Payee, Agreement, Currency, \"On\" FROM ProgressDays LIMIT 1)", "Progress of payees")]
    [InlineData("DELETE FROM ProgressDays WHERE (Payee, Agreement, Currency, \"On\") = (SELECT Payee, Agreement, Currency, \"On\" FROM ProgressDays LIMIT 1)", "Progress of payees")]
    [InlineData("DELETE FROM ProgressEvents WHERE (Payee, Agreement, Currency, At, IsRefund, EventId) = (SELECT Payee, Agreement, Currency, At, IsRefund, EventId FROM ProgressEvents LIMIT 1)", "Progress of payees")]
    [InlineData("UPDATE Remittances SET Earned = Earned + 1 WHERE Id = (SELECT MIN(Id) FROM Remittances WHERE Earned > 0)", "Runs")]
    [InlineData("UPDATE Remittances SET Carried = Carried + 1 WHERE Id = 1", "Runs")]
    [InlineData("UPDATE Remittances SET Adjustments = Adjustments - 1, Earned = Earned + 1 WHERE Id = (SELECT MAX(Id) FROM Remittances WHERE Paid > 0)", "Runs")]
    [InlineData("UPDATE Recoupments SET Amount = Amount + 1 WHERE Id = (SELECT MIN(Id) FROM Recoupments)", "Runs")]
    [InlineData("UPDATE OrderLines SET UnitPrice = UnitPrice + 100 WHERE OrderId = (SELECT MIN(Id) FROM Orders WHERE Status = 0)", "Figures of orders", "Entries")]
    [InlineData("DELETE FROM OrderTexts WHERE rowid = (SELECT MAX(Id) FROM Orders)", "Links between rows")]
    [InlineData("DELETE FROM Payees WHERE Id = (SELECT Payee FROM Entries LIMIT 1)", "Links between rows")]
    [InlineData("UPDATE Audit SET By = 'nobody' WHERE Id = 2", "The record of what was done")]
    [InlineData("UPDATE Audit SET Changes = '[]' WHERE Id = 2", "The record of what was done")]
    [InlineData("DELETE FROM Audit WHERE Id = 2", "The record of what was done")]
    [InlineData("DELETE FROM AuditThings WHERE rowid = (SELECT MIN(rowid) FROM AuditThings)", "The record of what was done")]
    [InlineData("DROP INDEX IX_PayRuns_Reference; UPDATE PayRuns SET Reference = 'same'", "References used once")]
    public void One_figure_moved_is_found_and_named(string change, params string[] found)
    {
        _book.Do<BookDbContext>(db =>
        {
            db.Database.OpenConnection();
            foreach (var guard in DatabaseGuards.Present(db).Keys) Execute(db, $"DROP TRIGGER {guard}");
            Execute(db, "PRAGMA foreign_keys = OFF");
            Assert.NotEqual(0, Execute(db, change));
            Execute(db, "PRAGMA foreign_keys = ON");
            foreach (var guard in DatabaseGuards.Wanted.Values) Execute(db, guard);
        });
        var result = Check();
        Assert.All(found, name => Assert.Contains(result.Lines, l => l.Name == name && l.Differences > 0));
        Assert.All(result.Lines.Where(l => l.Differences > 0), l => Assert.All(l.Shown, d => Assert.NotEqual(d.Kept, d.WorkedOut)));
    }

    [Fact]
    public void A_guard_that_is_gone_or_was_changed_is_named()
    {
        _book.Do<BookDbContext>(db => db.Database.ExecuteSqlRaw("DROP TRIGGER Audit_NoDelete; DROP TRIGGER Takings_NoDelete; CREATE TRIGGER Takings_NoDelete BEFORE UPDATE ON Entries BEGIN SELECT 1; END; CREATE TRIGGER Mine BEFORE UPDATE ON Orders BEGIN SELECT 1; END;"));
        Assert.Equal(["Guard Audit_NoDelete", "Guard Takings_NoDelete", "Trigger Mine"], Check().Lines.Single(l => l.Name == "Guards of the database").Shown.Select(d => d.What).Order(StringComparer.Ordinal));
    }

    [Fact]
    public void Bytes_overwritten_in_the_file_are_found()
    {
        Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
        _book.Do<BookDbContext>(db => db.Database.ExecuteSqlRaw("PRAGMA wal_checkpoint(TRUNCATE)"));
        var page = _book.Get<BookDbContext, long>(db => db.Database.SqlQueryRaw<long>("SELECT rootpage AS Value FROM sqlite_master WHERE name = 'IX_Entries_OrderId'").Single());
        using (var file = File.Open(_book.Place.Database, FileMode.Open, FileAccess.ReadWrite, FileShare.ReadWrite))
        {
            file.Position = (page - 1) * 4096 + 40;
            file.Write([0xFF, 0xFF, 0xFF, 0xFF]);
        }
        Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
        var broken = Check().Lines.Where(l => l.Name is "Database" or "Database file").ToArray();
        Assert.NotEqual(0, broken.Sum(l => l.Differences));
    }

    [Fact]
    public void A_check_that_is_asked_for_is_made_once_and_kept()
    {
        _book.Do<BookCheck>(c => c.Ask("Lena"));
        _book.Do<BookCheck>(c => c.Ask("Aron"));
        Assert.True(_book.Get<BookCheck, bool>(c => c.RunAsked()));
        Assert.False(_book.Get<BookCheck, bool>(c => c.RunAsked()));
        var last = _book.Get<BookCheck, BookCheckRecord>(c => c.Last()!);
        Assert.Equal(("Lena", 0L, 27), (last.Why, last.Differences, last.Lines.Count));
    }

    [Fact]
    public void Orders_that_wait_to_be_worked_out_again_are_told_and_the_rest_is_compared()
    {
        _book.Do<Terms.AgreementDesk>(d =>
        {
            var member = d.Find("a0")!.Members.Concat(d.Find("a1")!.Members).Concat(d.Find("a2")!.Members).First(m => m.To is null);
            d.TakeOff(member.Id, member.From.AddDays(1), "Lena");
        });
        var result = Check();
        Assert.NotNull(result.Waiting);
        Assert.DoesNotContain(result.Lines, l => l.Name == "Entries");
        Assert.Equal(0, result.Differences);
        _book.Do<Importing.RecalculateOrders>(r => r.RunAll());
        Assert.Equal((null, 0L), (Check().Waiting, Check().Differences));
    }

    /// <summary>A connection that was used before knows the search index as it was; that others have changed it since is no damage.</summary>
    [Fact]
    public void What_others_have_written_meanwhile_is_no_damage()
    {
        using var book = new TestBook();
        book.Do<IServiceProvider>(services =>
        {
            services.GetRequiredService<BookDbContext>().Database.OpenConnection();
            // The parts of the index are put together every sixteen changes.
            for (var i = 1; i <= 40; i++)
            {
                book.ImportOrders(TestBook.Row($"O{i:D2}"));
                BookOnDisk.AgreesWithItself(services.GetRequiredService<BookCheck>());
            }
        });
    }

    private CheckResult Check() => _book.Get<BookCheck, CheckResult>(c => c.Run());

    private static int Execute(BookDbContext db, string sql)
    {
        using var command = db.Database.GetDbConnection().CreateCommand();
        command.CommandText = sql;
        return command.ExecuteNonQuery();
    }
}
