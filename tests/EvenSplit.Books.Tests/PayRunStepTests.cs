using EvenSplit.Books.Balances;
using EvenSplit.Books.Model;
using EvenSplit.Books.PayRuns;
using EvenSplit.Books.Sales;
using EvenSplit.Core;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using static EvenSplit.Books.Tests.TestBook;

namespace EvenSplit.Books.Tests;

public sealed class PayRunStepTests : IDisposable
{
    private static readonly DateOnly October = new(2026, 10, 31), November = new(2026, 11, 30);

    private readonly TestBook _book = new();

    public PayRunStepTests()
    {
        _book.ImportOrders(Row("A", code: "ANNA"), Row("B", "2026-10-30"));
        _book.MoveTo(new DateOnly(2026, 11, 3));
    }

    public void Dispose() => _book.Dispose();

    [Fact]
    public void What_was_paid_and_came_back_is_taken_off_the_next_run()
    {
        var october = _book.Pay(October);
        Assert.Equal((1000, 4000), (_book.In(october, "anna").Paid, _book.In(october, "ines").Paid));
        _book.ImportRefunds("R1,A,2026-11-02T10:00:00Z,cancel,,,,");
        _book.ImportOrders(Row("C", "2026-11-02", "ANNA", price: "40.00"));
        _book.MoveTo(November);
        // Looked ahead to, it tells the same as once it is locked.
        Assert.Equal(-1000, _book.Get<PayRunDesk, RunView>(d => d.Preview(November, null)).Rows.Single(r => r.Payee == "anna").Reversed);
        var november = _book.Pay(November);
        var anna = _book.In(november, "anna");
        Assert.Equal((-600, 0, -600, RemittanceReason.Negative), (anna.Earned, anna.Paid, anna.Carried, anna.Reason));
        var row = november.Rows.Single(r => r.Payee == "anna");
        Assert.Equal(-1000, row.Reversed);
        _book.MoveTo(new DateOnly(2026, 12, 31));
        Assert.Equal(-600, _book.In(_book.Pay(new DateOnly(2026, 12, 31)), "anna").Opening);
    }

    [Fact]
    public void Every_entry_is_in_one_run_and_runs_and_rest_make_up_the_whole()
    {
        _book.Pay(new DateOnly(2026, 10, 15));
        _book.Pay(October);
        _book.ImportOrders(Row("D", "2026-11-02", "ANNA"));
        var (all, inRuns, open) = _book.Get<BookDbContext, (long, long, long)>(db => (
            db.Entries.Sum(e => e.Amount),
            db.Remittances.Sum(r => r.Earned),
            db.Entries.Where(e => e.RunId == null).Sum(e => e.Amount)));
        Assert.Equal(all, inRuns + open);
    }

    [Fact]
    public void Nothing_joins_a_locked_run()
    {
        var id = _book.Get<PayRunSteps, int>(s => s.Gather(October, Lead));
        _book.Do<PayRunSteps>(s => s.Lock(id, Lead));
        _book.ImportOrders(Row("Late", "2026-10-10", "ANNA"));
        Assert.Equal(1000, _book.In(_book.Get<PayRunDesk, RunView>(d => d.Find(id)!), "anna").Earned);
        Assert.Equal(1000, _book.In(_book.Pay(new DateOnly(2026, 11, 3)), "anna").Earned);
    }

    [Fact]
    public void Who_prepared_a_run_cannot_approve_it()
    {
        var id = _book.Get<PayRunSteps, int>(s => s.Gather(October, Lead));
        _book.Do<PayRunSteps>(s => s.Lock(id, Lead));
        var refused = Assert.Throws<RefusedException>(() => _book.Do<PayRunSteps>(s => s.Approve(id, "", Lead)));
        Assert.Equal("Lena prepared this run, so somebody else must approve it.", refused.Message);
        _book.Approve(id);
    }

    [Fact]
    public void A_remittance_is_marked_once_can_be_undone_and_not_after_closing()
    {
        var run = _book.Pay(October);
        var row = run.Rows.Single(r => r.Payee == "anna");
        void Mark(string reference) => _book.MarkPaid(run, "anna", new DateOnly(2026, 11, 3), reference);
        Assert.Throws<RefusedException>(() => Mark(" "));
        Mark("T-1");
        Assert.Throws<RefusedException>(() => Mark("T-2"));
        Assert.Throws<RefusedException>(() => _book.Do<PayRunSteps>(s => s.Close(run.Id, Lead)));
        _book.Do<HandPayments>(h => h.Undo(run.Id, row.Id!.Value, Lead));
        Mark("T-3");
        _book.MarkPaid(run, "ines", new DateOnly(2026, 11, 3), "T-4");
        _book.Do<PayRunSteps>(s => s.Close(run.Id, Lead));
        Assert.Throws<RefusedException>(() => _book.Do<HandPayments>(h => h.Undo(run.Id, row.Id!.Value, Lead)));
    }

    [Fact]
    public void Adjustments_are_taken_once_and_stay_as_they_are()
    {
        _book.Do<Adjustments>(a => a.Add("anna", new DateOnly(2026, 10, 20), "-3.50", "EUR", AdjustmentKind.Recharge, "Sample sent", Lead));
        var run = _book.Pay(October);
        Assert.Equal((-350, 650), (_book.In(run, "anna").Adjustments, _book.In(run, "anna").Paid));
        Assert.Throws<RefusedException>(() => _book.Do<Adjustments>(a => a.TakeBack(1, Lead)));
        Assert.Equal("Sample sent", Assert.Single(_book.Get<Statements, Statement>(s => s.Find(run.Id, "anna")!).Adjustments).Note);
    }

    [Fact]
    public void A_statement_adds_up()
    {
        var run = _book.Pay(October);
        var statement = _book.Get<Statements, Statement>(s => s.Find(run.Id, "ines")!);
        Assert.Equal(statement.Payee.Figures.Earned, statement.Lines.Sum(l => l.Amount.Minor));
        Assert.Equal(["A", "B"], statement.Lines.Select(l => l.OrderId));
    }

    /// <summary>A page shows so many lines; what it says of all of them does not depend on it.</summary>
    [Fact]
    public void A_statement_of_some_lines_has_the_sums_of_all()
    {
        var run = _book.Pay(October);
        var (whole, some) = _book.Get<Statements, (Statement, Statement)>(s => (s.Find(run.Id, "ines")!, s.Find(run.Id, "ines", most: 1)!));
        Assert.Equal((2, 1), (whole.Lines.Count, some.Lines.Count));
        Assert.Equal((2L, whole.Lines.Sum(l => l.Amount.Minor)), (some.Count, some.EarnedByCurrency.Single().Minor));
        Assert.Equal(whole.Lines.Where(l => l.IsReversal).Sum(l => l.Amount.Minor), whole.Earned.Single().Reversed.Minor);
    }

    /// <summary>What comes after a lock is in no run that is locked, however early it clears; what a run took stays with it when others come.</summary>
    [Fact]
    public void Entries_posted_after_a_lock_wait_for_the_next_run()
    {
        var october = _book.Pay(October);
        _book.ImportOrders(Row("Late", "2026-10-02"));
        Assert.Equal([october.Id, october.Id, null], _book.Get<BookDbContext, int?[]>(db => [.. db.Entries.Where(e => e.Payee == "ines").OrderBy(e => e.Id).Select(e => e.RunId)]));
        _book.MoveTo(new DateOnly(2026, 11, 30));
        var november = _book.Pay(new DateOnly(2026, 11, 30));
        Assert.Equal([october.Id, october.Id, november.Id], _book.Get<BookDbContext, int?[]>(db => [.. db.Entries.Where(e => e.Payee == "ines").OrderBy(e => e.Id).Select(e => e.RunId)]));
        Assert.Throws<SqliteException>(() => _book.Do<BookDbContext>(db => db.Database.ExecuteSql($"DELETE FROM Takings WHERE RunId = {october.Id}")));
    }

    [Theory]
    [InlineData("UPDATE Entries SET Amount = Amount + 1")]
    [InlineData("DELETE FROM Entries")]
    [InlineData("UPDATE Entries SET OpenSince = 1000")]
    [InlineData("UPDATE Entries SET ClearsOn = NULL")]
    [InlineData("INSERT INTO Entries SELECT Id + 1000, OrderId, LineNumber, Payee, Agreement, Part, RefundId, Amount, Currency, PostedOn, Period, ClearsOn, 0 FROM Entries LIMIT 1")]
    [InlineData("DELETE FROM Takings")]
    [InlineData("UPDATE Takings SET AsOf = '2027-01-01'")]
    [InlineData("DELETE FROM TakenSums")]
    [InlineData("UPDATE TakenSums SET Amount = 0")]
    [InlineData("UPDATE AgreementVersions SET Document = 'x'")]
    [InlineData("DELETE FROM AgreementVersions")]
    [InlineData("UPDATE Remittances SET Paid = 1")]
    [InlineData("DELETE FROM Remittances")]
    [InlineData("DELETE FROM PayRuns")]
    [InlineData("UPDATE Audit SET By = 'nobody'")]
    [InlineData("DELETE FROM Audit")]
    [InlineData("UPDATE PayRuns SET State = 1")]
    [InlineData("UPDATE PayRuns SET State = 0")]
    [InlineData("UPDATE PayRuns SET ApprovedBy = PreparedBy")]
    [InlineData("UPDATE PayRuns SET ApprovedBy = NULL")]
    [InlineData("UPDATE PayRuns SET Reference = 'x'")]
    public void The_database_itself_refuses_to_edit_what_is_posted(string sql)
    {
        _book.Pay(October);
        Assert.Throws<SqliteException>(() => _book.Do<BookDbContext>(db => db.Database.ExecuteSqlRaw(sql)));
    }

    /// <summary>Replacing a row by its key removes it without asking the guards against deletion: each table that has one has another against that.</summary>
    [Fact]
    public void No_row_that_may_not_be_deleted_may_be_replaced()
    {
        var run = _book.Pay(October);
        _book.Do<BookDbContext>(db => db.Database.ExecuteSqlRaw(
            """
            INSERT INTO PaymentDoubts (Id, RemittanceId, Kind, Says, FileName, RaisedBy, RaisedAt, IsUpheld) SELECT 1, MIN(Id), 0, '', '', '', 0, 0 FROM Remittances;
            INSERT INTO WriteOffs (Id, Payee, Amount, Currency, Reason, ProposedBy, ProposedAt) VALUES (1, 'ines', 1, 'EUR', '', '', 0);
            """));
        var guarded = _book.Get<BookDbContext, string[]>(db => [.. DatabaseGuards.Present(db).Keys.Where(g => g.EndsWith("_NoDelete", StringComparison.Ordinal)).Select(g => g[..g.IndexOf('_', StringComparison.Ordinal)])]);
        var tried = 0;
#pragma warning disable EF1002 // Names of tables come from the database itself.
        foreach (var table in guarded)
        {
            Assert.Contains(table == "Entries" ? "Entries_WhenMade" : $"{table}_NoReplace", DatabaseGuards.Wanted.Keys);
            if (_book.Get<BookDbContext, int>(db => db.Database.SqlQueryRaw<int>($"SELECT COUNT(*) AS Value FROM \"{table}\"").Single()) == 0) continue;
            tried++;
            Assert.Throws<SqliteException>(() => _book.Do<BookDbContext>(db => db.Database.ExecuteSqlRaw($"INSERT OR REPLACE INTO \"{table}\" SELECT * FROM \"{table}\" LIMIT 1")));
        }
#pragma warning restore EF1002
        Assert.True(tried >= 8, $"Of {guarded.Length} guarded tables {tried} had a row to try.");
        Assert.Equal(2, _book.Run(run.Id).Rows.Count(r => r.Figures.Paid > 0));
    }

    [Fact]
    public void A_version_published_in_the_past_posts_differences_and_leaves_the_locked_run_alone()
    {
        var october = _book.Pay(October);
        _book.Publish(Draft("Art", Basis.Contribution, "30", from: new DateOnly(2026, 10, 1)), "art");
        Assert.Throws<RefusedException>(() => _book.Pay(new DateOnly(2026, 11, 3)));
        _book.Recalculate();
        Assert.Equal(6000, _book.Owed("ines"));
        Assert.Equal(4000, _book.In(_book.Get<PayRunDesk, RunView>(d => d.Find(october.Id)!), "ines").Earned);
        _book.Do<PayRunSteps>(s => s.Discard(_book.Get<PayRunDesk, int>(d => d.List().Single(r => r.State == RunState.Gathering).Id), Lead));
        Assert.Equal(2000, _book.In(_book.Pay(new DateOnly(2026, 11, 3)), "ines").Earned);
        _book.Recalculate();
        Assert.Equal(6000, _book.Owed("ines"));
    }

    [Fact]
    public void An_opened_order_agrees_with_what_is_posted_and_explains_it()
    {
        _book.ImportRefunds("R1,A,2026-11-02T10:00:00Z,refund,1,0,50.00,0");
        var order = _book.Get<OpenOrder, OrderView>(o => o.Find("A")!);
        Assert.True(order.Agrees);
        Assert.Equal(order.Ribbon!.Whole, order.Ribbon.Parts.Sum(p => p.Amount));
        Assert.All(order.Entries, e => Assert.NotNull(e.Trace));
        _book.Publish(Draft("Art", Basis.Contribution, "30", from: new DateOnly(2026, 10, 1)), "art");
        Assert.False(_book.Get<OpenOrder, OrderView>(o => o.Find("A")!).Agrees);
        _book.Recalculate();
        Assert.True(_book.Get<OpenOrder, OrderView>(o => o.Find("A")!).Agrees);
    }
}
