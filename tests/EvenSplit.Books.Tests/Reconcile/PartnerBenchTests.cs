using EvenSplit.Books.Model;
using EvenSplit.Books.Reconcile;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Tests;

/// <summary>Partners' reports and invoices held against what was posted.</summary>
public sealed class PartnerBenchTests : IDisposable
{
    private const string Header = "report,line_id,payee,order_id,from,to,amount,currency,note,invoice,issued_on,due_on";

    private readonly BenchBook _bench = new();

    public PartnerBenchTests()
    {
        // Anna has 10 % of each order, Ines 20 %.
        _bench.Book.ImportOrders(TestBook.Row("A", code: "ANNA"), TestBook.Row("B", "2026-10-06", "ANNA"), TestBook.Row("C", "2026-10-20", "ANNA"));
    }

    public void Dispose() => _bench.Dispose();

    [Fact]
    public void A_line_is_held_against_what_was_posted_for_its_order_or_its_days()
    {
        Report("R,1,anna,A,2026-10-01,2026-10-31,10.00,EUR,,,,", "R,2,anna,B,2026-10-01,2026-10-31,11.00,EUR,,,,", "R,3,anna,Z,2026-10-01,2026-10-31,4.00,EUR,,,,", "S,4,ines,,2026-10-01,2026-10-10,40.00,EUR,,,,", "S,5,ines,,2026-10-01,2026-10-31,59.00,EUR,,INV-9,2026-11-01,2026-11-30");
        var rows = _bench.Rows(Bench.Partners);
        Assert.Equal("earned:anna:A matched", rows["1"]);
        Assert.Equal("earned:anna:B open differs", rows["2"]);
        Assert.Equal("open only-theirs", rows["3"]);
        Assert.Equal("earned:anna:C:R open only-ours", rows["earned:anna:C:R"]);
        Assert.EndsWith(" matched", rows["4"], StringComparison.Ordinal);
        Assert.EndsWith(" open differs", rows["5"], StringComparison.Ordinal);
    }

    [Fact]
    public void What_is_posted_later_is_compared_again()
    {
        Report("S,1,anna,,2026-10-01,2026-11-30,40.00,EUR,,,,");
        Assert.EndsWith(" open differs", _bench.Rows(Bench.Partners)["1"], StringComparison.Ordinal);
        _bench.Book.ImportOrders(TestBook.Row("D", "2026-11-02", "ANNA"));
        Assert.EndsWith(" matched", _bench.Rows(Bench.Partners)["1"], StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("R,1,anna,A,2026-10-01,2026-10-31,12.50,EUR,,,,", "Theirs would be 12.5 % of the goods, ours is 10 %.")]
    [InlineData("R,1,anna,,2026-10-04,2026-10-19,30.00,EUR,,,,", "It is what was posted on 20 Oct 2026: they count it in.")]
    [InlineData("R,1,anna,,2026-10-05,2026-10-20,20.00,EUR,,,,", "It is what was posted on 5 Oct 2026: they leave it out.")]
    [InlineData("R,1,anna,R,2026-10-01,2026-10-31,10.00,EUR,,,,", "It is ours before the refund of 25 Oct 2026, which they have not seen.")]
    public void What_explains_a_difference_is_said(string row, string says)
    {
        _bench.Book.ImportOrders(TestBook.Row("R", "2026-09-30", "ANNA"));
        _bench.Book.ImportRefunds("RF,R,2026-10-25T10:00:00Z,refund,1,0,40.00,0");
        Report(row);
        _bench.Cells(Bench.Partners);
        Assert.EndsWith(says, _bench.Book.Get<Benches, BenchDetail>(b => b.Open(Bench.Partners, _bench.RowOf("1"))!).Reason, StringComparison.Ordinal);
    }

    [Fact]
    public void A_tolerance_lets_a_report_differ_by_a_little()
    {
        Report("R,1,anna,A,2026-10-01,2026-10-31,10.02,EUR,,,,");
        Assert.Contains("open differs", _bench.Rows(Bench.Partners)["1"], StringComparison.Ordinal);
        _bench.Book.Do<SettleFindings>(s => s.SetTolerance("R", "0.02", TestBook.Lead));
        Assert.Equal("earned:anna:A matched", _bench.Rows(Bench.Partners)["1"]);
        Assert.Equal("Tolerance", Assert.Throws<RefusedException>(() => _bench.Book.Do<SettleFindings>(s => s.SetTolerance("R", "-1", TestBook.Lead))).Field);
    }

    [Theory]
    [InlineData("R,1,nobody,A,2026-10-01,2026-10-31,10.00,EUR,,,,", "payee")]
    [InlineData("R,1,anna,,,2026-10-31,10.00,EUR,,,,", "from")]
    [InlineData("R,1,anna,A,2026-11-01,2026-10-31,10.00,EUR,,,,", "to")]
    [InlineData("R,1,anna,A,2026-10-01,2026-10-31,10.001,EUR,,,,", "amount")]
    [InlineData("R,1,anna,A,2026-10-01,2026-10-31,10.00,EUR,,,,2026-11-30", "invoice")]
    public void What_cannot_be_read_waits_in_quarantine(string row, string column)
    {
        Assert.Equal(1, _bench.Book.Import(ImportKind.Outside, Header, [row]).Quarantined);
        Assert.Equal(column, _bench.Book.Get<BookDbContext, string>(db => db.Quarantine.AsNoTracking().Single().Columns));
    }

    private void Report(params string[] rows) => Assert.Equal(0, _bench.Book.Import(ImportKind.Outside, Header, rows).Quarantined);
}
