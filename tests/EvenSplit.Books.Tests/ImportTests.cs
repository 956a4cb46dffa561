using EvenSplit.Books.Importing;
using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;
using static EvenSplit.Books.Tests.TestBook;

namespace EvenSplit.Books.Tests;

public sealed class ImportTests : IDisposable
{
    private readonly TestBook _book = new();

    public void Dispose() => _book.Dispose();

    [Fact]
    public void A_refund_that_came_before_its_order_is_taken_once_the_order_comes()
    {
        Assert.Equal(2, _book.ImportRefunds("R1,A,2026-10-06T12:00:00Z,cancel,,,,", "R2,Z,2026-10-06T12:00:00Z,cancel,,,,").Quarantined);
        int Send() => _book.Get<QuarantineDesk, int>(q => q.SendRefundsWhoseOrderCame());
        Assert.Equal(0, Send());
        _book.ImportOrders(Row("A", code: "ANNA"));
        Assert.Equal((1, 0), (Send(), Send()));
        Assert.Equal(0, _book.Owed("anna"));
        Assert.Equal("R2", Assert.Single(_book.Get<QuarantineDesk, IReadOnlyList<WaitingGroup>>(q => q.Waiting())).Group);
    }

    [Fact]
    public void Orders_are_computed_and_posted_as_they_come_in()
    {
        var import = _book.ImportOrders(Row("A", code: "anna"), Row("B"));
        Assert.Equal((ImportState.Done, 2L, 0L), (import.State, import.Added, import.Quarantined));
        Assert.Equal(1000, _book.Owed("anna"));
        Assert.Equal(4000, _book.Owed("ines"));
        var totals = _book.Get<BookDbContext, PeriodTotalsRecord>(db => db.PeriodTotals.Single());
        Assert.Equal((202610, 2L, 20000L, 1000L, 4000L, 15000L), (totals.Period, totals.Orders, totals.Charged, totals.Affiliates, totals.Collaborators, totals.House));
    }

    [Fact]
    public void The_same_file_twice_changes_nothing()
    {
        string[] rows = [Row("A", code: "anna"), Row("B"), Row("B", product: "print", line: "2")];
        _book.ImportOrders(rows);
        var before = Everything();
        var again = _book.ImportOrders(rows);
        Assert.Equal((0L, 0L, 2L), (again.Added, again.Changed, again.Unchanged));
        Assert.Equal(before, Everything());
    }

    [Fact]
    public void A_bad_row_keeps_its_whole_order_out_and_no_other()
    {
        var import = _book.ImportOrders(Row("A"), Row("B"), Row("B", product: "print", line: "2", quantity: "-1"), Row("C"));
        Assert.Equal((2L, 2L), (import.Added, import.Quarantined));
        Assert.Equal(["A", "C"], _book.Get<BookDbContext, string[]>(db => db.Orders.Select(o => o.OrderId).Order().ToArray()));
        var waiting = Assert.Single(_book.Get<QuarantineDesk, IReadOnlyList<WaitingGroup>>(q => q.Waiting()));
        Assert.Equal(["waits for row 4 of the same order", "quantity '-1': expected a whole number of 1 or more"], waiting.Rows.Select(r => r.Fault));
    }

    [Fact]
    public void A_corrected_row_goes_in_with_its_order()
    {
        var import = _book.ImportOrders(Row("B"), Row("B", product: "print", line: "2", quantity: "-1"));
        var bad = _book.Get<QuarantineDesk, WaitingRow>(q => q.Waiting()[0].Rows[1]);
        bool Send(string quantity, long id) => _book.Get<QuarantineDesk, bool>(q => q.SendAgain(
            import.Id, "B", new Dictionary<long, IReadOnlyDictionary<string, string>> { [id] = new Dictionary<string, string> { ["quantity"] = quantity } }, Lead));

        Assert.False(Send("none", bad.Id));
        var still = _book.Get<QuarantineDesk, WaitingRow>(q => q.Waiting()[0].Rows[1]);
        Assert.Equal("none", still.Cells["quantity"]);
        Assert.True(Send("2", still.Id));
        Assert.Equal(0, _book.Get<QuarantineDesk, int>(q => q.Count()));
        Assert.Equal(2, _book.Get<BookDbContext, int>(db => db.OrderLines.Count()));
        Assert.Equal(6000, _book.Owed("ines"));
    }

    [Fact]
    public void An_order_that_comes_again_further_down_waits()
    {
        var import = _book.ImportOrders(Row("A"), Row("B"), Row("A", line: "2"));
        Assert.Equal((2L, 1L), (import.Added, import.Quarantined));
        Assert.Contains("its rows to follow each other; the first is row 2", _book.Get<QuarantineDesk, string>(q => q.Waiting()[0].Rows[0].Fault), StringComparison.Ordinal);
    }

    [Fact]
    public void An_order_paid_later_earns_from_then()
    {
        _book.ImportOrders(Row("A", paid: false));
        Assert.Equal(0, _book.Owed("ines"));
        var import = _book.ImportOrders(Row("A"));
        Assert.Equal(1, import.Changed);
        Assert.Equal(2000, _book.Owed("ines"));
        Assert.Equal(new DateOnly(2026, 10, 5), _book.Get<BookDbContext, DateOnly>(db => db.Entries.Single().PostedOn));
    }

    [Fact]
    public void A_changed_order_posts_the_difference_and_edits_nothing()
    {
        _book.ImportOrders(Row("A"));
        _book.MoveTo(new DateOnly(2026, 10, 20));
        _book.ImportOrders(Row("A", price: "80.00"));
        var entries = _book.Get<BookDbContext, (long, DateOnly)[]>(db => db.Entries.OrderBy(e => e.Id).AsEnumerable().Select(e => (e.Amount, e.PostedOn)).ToArray());
        Assert.Equal([(2000, new DateOnly(2026, 10, 5)), (-400, new DateOnly(2026, 10, 20))], entries);
        Assert.Equal(8000, _book.Get<BookDbContext, long>(db => db.PeriodTotals.Single().Charged));
    }

    [Fact]
    public void A_renewal_has_its_origins_attribution_also_when_the_origin_comes_last()
    {
        _book.ImportOrders(Row("R", "2026-10-08", origin: "A"));
        Assert.Equal(0, _book.Owed("anna"));
        _book.ImportOrders(Row("A", code: "ANNA"));
        Assert.Equal(2000, _book.Owed("anna"));
    }

    [Fact]
    public void A_refund_posts_reversals_and_the_same_refund_again_nothing()
    {
        _book.ImportOrders(Row("A", code: "ANNA"));
        string[] refund = ["R1,A,2026-10-09T10:00:00Z,refund,1,0,25.00,0"];
        _book.ImportRefunds(refund);
        Assert.Equal(750, _book.Owed("anna"));
        Assert.Equal(1, _book.ImportRefunds(refund).Unchanged);
        Assert.Equal(750, _book.Owed("anna"));
    }

    [Fact]
    public void A_refund_of_an_unknown_order_waits_until_that_is_in()
    {
        var import = _book.ImportRefunds("R1,A,2026-10-09T10:00:00Z,cancel,,,,");
        Assert.Equal(1, import.Quarantined);
        _book.ImportOrders(Row("A"));
        Assert.True(_book.Get<QuarantineDesk, bool>(q => q.SendAgain(import.Id, "R1", new Dictionary<long, IReadOnlyDictionary<string, string>>(), Lead)));
        Assert.Equal(0, _book.Owed("ines"));
    }

    [Theory]
    [InlineData("order_id,channel\nA,shop\n", "The column 'currency' is missing.")]
    [InlineData("Dear reader,\nhello\n", "The first row has none of the columns of a file of orders.")]
    public void A_file_that_is_no_orders_file_is_refused_whole(string csv, string reason)
    {
        var import = _book.Read(_book.Queue(ImportKind.Orders, csv));
        Assert.Equal(ImportState.Refused, import.State);
        Assert.StartsWith(reason, import.Fault, StringComparison.Ordinal);
        Assert.Equal(0, _book.Get<BookDbContext, int>(db => db.Orders.Count()));
    }

    [Fact]
    public void An_import_that_was_stopped_goes_on_where_nothing_is_doubled()
    {
        var rows = Enumerable.Range(1, 1200).Select(i => Row($"A{i}", code: i % 2 == 0 ? "ANNA" : "")).ToArray();
        var import = _book.QueueOrders(rows);
        using var stop = new CancellationTokenSource();
        var batches = 0;
        Assert.Throws<OperationCanceledException>(() => _book.Do<ReadImport>(read => read.Run(import, _ =>
        {
            if (++batches == 1) stop.Cancel();
        }, stop.Token)));
        Assert.Equal(500, _book.Get<BookDbContext, int>(db => db.Orders.Count()));
        Assert.Equal(import, _book.Get<ImportFiles, int?>(files => files.NextWaiting()));
        var finished = _book.Read(import);
        Assert.Equal((700L, 500L), (finished.Added, finished.Unchanged));
        Assert.Equal(600 * 1000, _book.Owed("anna"));
        Assert.Null(_book.Get<ImportFiles, int?>(files => files.NextWaiting()));
    }

    private string Everything() => _book.Get<BookDbContext, string>(db => string.Join('|', db.Entries.AsNoTracking().OrderBy(e => e.Id).AsEnumerable()
        .Select(e => $"{e.Id},{e.OrderId},{e.Payee},{e.Amount},{e.PostedOn}"))
        + string.Join('|', db.PeriodTotals.AsNoTracking().AsEnumerable().Select(t => $"{t.Orders},{t.Charged},{t.House}"))
        + string.Join('|', db.Orders.AsNoTracking().OrderBy(o => o.Id).AsEnumerable().Select(o => $"{o.Id},{o.OrderId},{o.House}")));
}
