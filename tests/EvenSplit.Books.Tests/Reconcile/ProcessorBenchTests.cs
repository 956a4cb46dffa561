using EvenSplit.Books.Checking;
using EvenSplit.Books.Model;
using EvenSplit.Books.Reconcile;
using EvenSplit.Books.Scenarios;
using EvenSplit.Core;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using static EvenSplit.Books.Tests.BenchBook;

namespace EvenSplit.Books.Tests;

/// <summary>Settlements held against orders, each finding of the contract, each way to settle it, and what undoing gives.</summary>
public sealed class ProcessorBenchTests : IDisposable
{
    private const string Lead = TestBook.Lead;

    private readonly BenchBook _bench = new();

    public void Dispose() => _bench.Dispose();

    [Fact]
    public void Each_line_is_held_against_its_order_with_what_differs()
    {
        _bench.Orders("A", "B", "C", "D", "E", "F");
        _bench.Import(Order("U", paid: ""), Order("T", test: "yes"));
        _bench.Settle(
            Line("sale", "A", "1"), Line("sale", "B", "2", gross: "99.00"), Line("sale", "C", "3", fee: "2.31"), Line("sale", "D", "4", gross: "98.00", fee: "2.00"), Line("sale", "E", "5", currency: "GBP"),
            Line("sale", "A", "6"), Line("sale", "U", "7"), Line("sale", "T", "8"), Line("sale", "ZZ", "9"), Line("sale", "", "10"), Line("fee", "", "11", gross: "0.00", fee: "5.00"), Line("refund", "A", "12", gross: "-10.00", fee: "0.00"));
        var rows = _bench.Rows();
        Assert.Equal("sale:A matched", rows["1"]);
        Assert.Equal("sale:B open gross-differs", rows["2"]);
        Assert.Equal("sale:C open fee-differs", rows["3"]);
        Assert.Equal("sale:D open gross-differs fee-differs", rows["4"]);
        Assert.Equal("sale:E open currency-differs", rows["5"]);
        Assert.Equal("sale:A open settled-twice", rows["6"]);
        Assert.Equal("open unpaid-in-book", rows["7"]);
        Assert.Equal("matched", rows["11"]);
        Assert.Equal("open not-in-book", rows["12"]);
        // The book expects F, and it was paid nine days ago; on the eleventh day it is late.
        Assert.DoesNotContain("sale:F", rows.Keys);
        Assert.Equal("sale:F open not-settled", _bench.Rows(asOf: new DateOnly(2026, 11, 5))["sale:F"]);
        // What nobody knows may be F: the same amount, but eight days apart.
        Assert.Equal("open not-in-book", rows["8"]);
        Assert.Equal("open not-in-book", rows["9"]);
    }

    [Fact]
    public void What_the_book_has_nothing_of_is_suggested_by_amount_and_day()
    {
        _bench.Import(Order("A", paid: "2026-10-31T12:00:00Z"));
        _bench.Settle(Line("sale", "a", "1"));
        Assert.Equal("sale:A suggested not-in-book", _bench.Rows()["1"]);
        _bench.Book.Do<SettleFindings>(s => s.Link(Bench.Processors, _bench.IdOf("1"), "sale:A", "written small", Lead));
        Assert.Equal("sale:A settled", _bench.Rows()["1"]);
        Assert.DoesNotContain("sale:A", _bench.Rows(asOf: new DateOnly(2027, 1, 1)).Keys);
        // Another line for it is the second.
        _bench.Settle(Line("sale", "A", "2", settlement: "ST-2"));
        Assert.Equal("sale:A open settled-twice", _bench.Rows()["2"]);
        _bench.Book.Do<SettleFindings>(s => s.Undo(Bench.Processors, [_bench.RowOf("1")], Lead));
        Assert.Equal(("open not-in-book", "sale:A matched"), (_bench.Rows()["1"], _bench.Rows()["2"]));
    }

    [Fact]
    public void A_settlement_that_does_not_add_up_says_so_at_its_payout()
    {
        _bench.Orders("A", "B");
        _bench.Settle(Line("sale", "A", "1"), Line("fee", "", "2", "0.00", "1.00"), Line("payout", "", "3", "-96.60", "0.00"));
        Assert.Equal("open does-not-add-up", _bench.Rows()["3"]);
        Assert.Equal("0.10", _bench.Cells().Single(c => c["line_id"] == "3")["difference"]);
        _bench.Book.Do<SettleFindings>(s => s.Accept(Bench.Processors, [_bench.RowOf("3")], "ten cents", Lead));
        Assert.Equal(("settled does-not-add-up", "0.10"), (_bench.Rows()["3"], _bench.Cells().Single(c => c["line_id"] == "3")["difference"]));
        _bench.Book.Do<SettleFindings>(s => s.Undo(Bench.Processors, [_bench.RowOf("3")], Lead));
        // What was missing comes with a second file.
        _bench.Settle(Line("fee", "", "4", "0.00", "0.10"));
        Assert.Equal("matched", _bench.Rows()["3"]);
    }

    [Fact]
    public void A_refund_goes_to_the_one_it_names_else_to_the_same_amount_else_to_the_earliest()
    {
        _bench.Orders("A");
        _bench.Book.ImportRefunds("R1,A,2026-10-26T10:00:00Z,refund,1,0,10.00,0", "R2,A,2026-10-27T10:00:00Z,refund,1,0,20.00,0", "R3,A,2026-10-28T10:00:00Z,refund,1,0,5.00,0", "K1,A,2026-10-29T10:00:00Z,chargeback,1,0,7.00,0", "X,A,2026-10-30T10:00:00Z,cancel,,,,");
        _bench.Settle(
            Line("refund", "A", "1", "-20.00", "0.00"), Line("refund", "A", "2", "-9.00", "0.00", refund: "R3"), Line("refund", "A", "3", "-11.00", "0.00"), Line("chargeback", "A", "4", "-7.00", "0.00"),
            Line("refund", "A", "5", "-58.00", "0.00", refund: "X"), Line("refund", "A", "6", "-20.00", "0.00", refund: "R2"));
        var rows = _bench.Rows();
        Assert.Equal("refund:R2 matched", rows["1"]);
        Assert.Equal("refund:R3 open gross-differs", rows["2"]);
        Assert.Equal("refund:R1 open gross-differs", rows["3"]);
        Assert.Equal("chargeback:K1 matched", rows["4"]);
        Assert.Equal("refund:X matched", rows["5"]);
        Assert.Equal("refund:R2 open settled-twice", rows["6"]);
    }

    [Fact]
    public void The_same_file_twice_changes_nothing_and_other_contents_under_an_id_wait_with_both_shown()
    {
        _bench.Orders("A");
        string[] file = [Line("sale", "A", "1"), Line("payout", "", "2", "-97.70", "0.00")];
        Assert.Equal((2, 0), (_bench.Settle(file).Added, _bench.Settle(file).Added));
        Assert.Equal("matched", _bench.Rows()["2"]);
        var changed = _bench.Settle(Line("sale", "A", "1", gross: "90.00"), Line("sale", "A", "3"));
        Assert.Equal((1L, 1L), (changed.Added, changed.Quarantined));
        var fault = _bench.Book.Get<BookDbContext, string>(db => db.Quarantine.AsNoTracking().Single().Fault);
        Assert.Contains("€100.00", fault, StringComparison.Ordinal);
        Assert.Contains("€90.00", fault, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("ST-1,2026-11-02,sale,A,1,,EUR,100.00,2.30,97.00", "net")]
    [InlineData("ST-1,02.11.2026,sale,A,1,,EUR,100.00,2.30,97.70", "settled_on")]
    [InlineData("ST-1,2026-11-02,gift,A,1,,EUR,100.00,2.30,97.70", "type")]
    [InlineData("ST-1,2026-11-02,sale,A,1,,QQQ,100.00,2.30,97.70", "currency")]
    [InlineData(",2026-11-02,sale,A,1,,EUR,100.00,2.30,97.70", "settlement_id")]
    [InlineData("ST-1,2026-11-02,sale,A", "")]
    public void What_cannot_be_read_waits_in_quarantine(string row, string column)
    {
        var import = _bench.Settle(row);
        Assert.Equal((0L, 1L), (import.Added, import.Quarantined));
        Assert.Equal(column, _bench.Book.Get<BookDbContext, string>(db => db.Quarantine.AsNoTracking().Single().Columns));
    }

    [Fact]
    public void A_line_whose_order_comes_later_is_matched_when_it_comes()
    {
        _bench.Settle(Line("sale", "A", "1"));
        Assert.StartsWith("open not-in-book", _bench.Rows()["1"], StringComparison.Ordinal);
        _bench.Orders("A");
        Assert.StartsWith("sale:A", _bench.Rows()["1"], StringComparison.Ordinal);
    }

    [Fact]
    public void Taking_their_fee_posts_what_was_shown_and_undoing_gives_what_was()
    {
        _bench.Import(Order("A", code: "ANNA"));
        _bench.Settle(Line("sale", "A", "1", fee: "3.30"), Line("payout", "", "2", "-96.70", "0.00"));
        var before = _bench.Rows();
        _bench.Book.Do<TakeTheirs>(t => t.Take([_bench.IdOf("1")], "as they say", Lead));
        Assert.Equal("sale:A settled fee-differs", _bench.Rows()["1"]);
        Assert.Equal(330, Fee("A"));
        Assert.Throws<RefusedException>(() => _bench.Book.Do<TakeTheirs>(t => t.Take([_bench.IdOf("1")], "", Lead)));
        _bench.Book.Do<SettleFindings>(s => s.Undo(Bench.Processors, [_bench.RowOf("1")], Lead));
        Assert.Equal((230L, true), (Fee("A"), before.SequenceEqual(_bench.Rows())));
        Assert.Equal(0, _bench.Book.Get<BookCheck, CheckResult>(c => c.Run()).Differences);
    }

    [Fact]
    public void Fees_of_too_many_sales_to_wait_for_are_worked_out_by_the_side_and_posted_as_shown()
    {
        _bench.Import(Order("A", code: "ANNA"), Order("B", code: "ANNA"), Order("C", code: "ANNA"));
        _bench.Settle(Line("sale", "A", "1", fee: "9.30"), Line("sale", "B", "2", fee: "8.30"), Line("payout", "", "3", "-182.40", "0.00"));
        _bench.Rows();
        var book = _bench.Book;
        void Take() => book.Do<TakeTheirs>(t => t.Take(t.OfSettlement("ST-1"), "as they say", Lead));
        long House() => book.Get<BookDbContext, long>(db => db.Orders.Sum(o => o.House));
        var (owed, house) = (book.Owed("anna"), House());
        book.IsEveryChangeLarge = true;
        book.ShownFirst = (true, "");
        var notSeen = Assert.Throws<NotSeenException>(Take);
        Assert.Equal((true, 2L), (notSeen.Difference.AreTooMany, notSeen.Difference.Orders));
        var worked = book.Get<IServiceProvider, PostedDifference>(s => LargeDifferences.WorkOut(s.GetRequiredService<BookDbContext>(), s.GetRequiredService<BookFacts>(), notSeen.After!, notSeen.Change));
        // Told with its sums; nothing is posted before it was seen.
        book.WorkedOut = worked;
        Assert.Equal(worked.Fingerprint, Assert.Throws<NotSeenException>(Take).Difference.Fingerprint);
        Assert.Equal((owed, house), (book.Owed("anna"), House()));
        book.ShownFirst = (true, worked.Fingerprint);
        Take();
        book.Recalculate();
        Assert.NotEqual(house, House());
        Assert.Equal((worked.Sums.Where(s => s.Payee == "anna").Sum(s => s.Amount.Minor), worked.Sums.Where(s => s.Payee is null).Sum(s => s.Amount.Minor)), (book.Owed("anna") - owed, House() - house));
    }

    [Fact]
    public void A_standing_rule_takes_what_is_open_and_what_comes()
    {
        _bench.Orders("A", "B");
        _bench.Settle(Line("sale", "A", "1", fee: "3.30"), Line("payout", "", "2", "-96.70", "0.00"));
        _bench.Book.Do<TakeTheirs>(t => t.SetRule("card", true, 4, Lead));
        Assert.Equal(330, Fee("A"));
        _bench.Settle(Line("sale", "B", "3", fee: "3.40", settlement: "ST-2"), Line("payout", "", "4", "-96.60", "0.00", settlement: "ST-2"));
        _bench.Cells();
        Assert.Equal(340, Fee("B"));
        _bench.Orders("C");
        Assert.Equal("sale:C open not-settled", _bench.Rows(asOf: new DateOnly(2026, 10, 30))["sale:C"]);
    }

    [Fact]
    public void What_is_accepted_is_open_again_where_more_comes_to_differ()
    {
        _bench.Orders("A");
        _bench.Settle(Line("sale", "A", "1", fee: "2.31"), Line("payout", "", "2", "-97.69", "0.00"));
        Assert.Equal("Reason", Assert.Throws<RefusedException>(() => Accept(" ")).Field);
        Accept("a cent");
        Assert.Equal("sale:A settled fee-differs", _bench.Rows()["1"]);
        Assert.Equal("a cent", _bench.Cells().Single(c => c["line_id"] == "1")["reason"]);
        _bench.Import(Order("A").Replace("100.00", "90.00", StringComparison.Ordinal));
        Assert.Equal("sale:A open gross-differs fee-differs", _bench.Rows()["1"]);

        void Accept(string reason) => _bench.Book.Do<SettleFindings>(s => s.Accept(Bench.Processors, [_bench.RowOf("1")], reason, Lead));
    }

    [Fact]
    public void What_waits_is_open_again_when_the_day_has_passed()
    {
        _bench.Orders("A");
        _bench.Settle(Line("sale", "A", "1", fee: "2.31"), Line("payout", "", "2", "-97.69", "0.00"));
        Assert.Throws<RefusedException>(() => Wait(new DateOnly(2026, 11, 3)));
        Wait(new DateOnly(2026, 11, 8));
        Assert.Equal("sale:A settled fee-differs", _bench.Rows()["1"]);
        _bench.Book.MoveTo(new DateOnly(2026, 11, 9));
        Assert.Equal("sale:A open fee-differs", _bench.Rows()["1"]);

        void Wait(DateOnly until) => _bench.Book.Do<SettleFindings>(s => s.Wait(Bench.Processors, [_bench.RowOf("1")], until, "they look into it", Lead));
    }

    [Fact]
    public void A_sale_that_is_late_can_be_waited_for_and_accepted()
    {
        _bench.Orders("A");
        var late = new DateOnly(2026, 11, 20);
        _bench.Book.MoveTo(late);
        _bench.Book.Do<FindMatches>(m => m.RunAll());
        // While no settlement was ever brought in, nobody is told that all of the book is late.
        Assert.Equal(0, _bench.Book.Get<Benches, int>(b => b.Open(Period.Of(late).Previous)));
        _bench.Settle(Line("fee", "", "1", "0.00", "1.00"));
        Assert.Equal(1, _bench.Book.Get<Benches, int>(b => b.Open(Period.Of(late).Previous)));
        _bench.Book.Do<SettleFindings>(s => s.Accept(Bench.Processors, [new BenchRow(null, "sale:A")], "paid in cash", Lead));
        Assert.Equal("sale:A settled not-settled", _bench.Rows()["sale:A"]);
        Assert.Equal(0, _bench.Book.Get<Benches, int>(b => b.Open(Period.Of(late).Previous)));
        _bench.Book.Do<SettleFindings>(s => s.Undo(Bench.Processors, [new BenchRow(null, "sale:A")], Lead));
        Assert.Equal("sale:A open not-settled", _bench.Rows()["sale:A"]);
        Assert.Equal(1, _bench.Book.Get<Benches, int>(b => b.Open(Period.Of(late).Previous)));
    }

    [Theory]
    [InlineData("UPDATE OutsideLines SET Gross = Gross + 1")]
    [InlineData("DELETE FROM OutsideLines")]
    [InlineData("INSERT OR REPLACE INTO OutsideLines SELECT * FROM OutsideLines")]
    [InlineData("DELETE FROM Settlings")]
    [InlineData("UPDATE Settlings SET Reason = 'another'")]
    public void The_database_keeps_what_others_wrote_and_how_it_was_settled(string sql)
    {
        _bench.Orders("A");
        _bench.Settle(Line("sale", "A", "1", fee: "2.31"));
        _bench.Book.Do<SettleFindings>(s => s.Accept(Bench.Processors, [_bench.RowOf("1")], "a cent", Lead));
        Assert.Throws<SqliteException>(() => _bench.Book.Do<BookDbContext>(db => db.Database.ExecuteSqlRaw(sql)));
    }

    private long Fee(string order) => _bench.Book.Get<BookDbContext, long>(db => db.Orders.AsNoTracking().Single(o => o.OrderId == order).ProcessingFee);
}
