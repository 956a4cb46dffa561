using EvenSplit.Books.Clearing;
using EvenSplit.Books.Ledger;
using EvenSplit.Books.Model;
using EvenSplit.Books.PayRuns;
using EvenSplit.Books.Sales;
using EvenSplit.Books.Terms;
using EvenSplit.Core;
using static EvenSplit.Books.Tests.TestBook;

namespace EvenSplit.Books.Tests.Changes;

/// <summary>Orders corrected after what they earned was posted, even paid; and what keeps one bad order from keeping others out.</summary>
public sealed class CorrectedLinesTests : IDisposable
{
    private readonly TestBook _book = new();

    public void Dispose() => _book.Dispose();

    private static string Line(string order, string line, string product, string price) => Row(order, "2026-10-05", "ANNA", product, price, line);

    [Fact]
    public void Lines_that_change_places_keep_what_was_posted_for_them()
    {
        _book.ImportOrders(Line("A", "1", "guide", "100.00"), Line("A", "2", "print", "50.00"));
        var before = Entries();
        Assert.Equal(1, _book.ImportOrders(Line("A", "2", "print", "50.00"), Line("A", "1", "guide", "100.00")).Changed);
        Assert.Equal(before, Entries());
        var order = _book.Get<OpenOrder, OrderView>(o => o.Find("A")!);
        Assert.True(order.Agrees);
        Assert.Equal(["2", "1"], order.Lines.Select(l => l.Figures.Line.Id.Value));
        Assert.All(order.Entries, e => Assert.NotNull(e.Trace));
    }

    [Fact]
    public void A_line_that_is_dropped_leaves_a_paid_statement_as_it_was()
    {
        _book.ImportOrders(Line("A", "1", "guide", "100.00"), Line("A", "2", "print", "50.00"));
        _book.MoveTo(new DateOnly(2026, 10, 31));
        var run = _book.Pay(new DateOnly(2026, 10, 31));
        var statement = Statement(run.Id);
        Assert.Equal([("The guide", 1000L), ("The print", 500L)], statement);
        _book.ImportOrders(Line("A", "2", "print", "50.00"));
        Assert.Equal(statement, Statement(run.Id));
        Assert.Equal(1500, _book.In(run, "anna").Earned);
        // Everything that shows the order goes on showing it.
        var order = _book.Get<OpenOrder, OrderView>(o => o.Find("A")!);
        Assert.Equal((true, 1), (order.Agrees, order.Lines.Count));
        Assert.Contains(order.Entries, e => e.Product == "The guide" && e.Amount.Minor == -1000);
        Assert.Equal(500, _book.Owed("anna"));
        Assert.NotEmpty(_book.Get<EntryList, EntryPage>(l => l.Find(new EntryFilter(null, null, "anna", EntryKindFilter.Any, null))).Rows);
    }

    [Fact]
    public void A_line_that_was_another_product_is_taken_back_as_what_it_was()
    {
        _book.ImportOrders(Line("A", "1", "guide", "100.00"));
        _book.ImportOrders(Line("A", "1", "print", "100.00"));
        Assert.Equal([("The guide", 1000L), ("The print", 1000L), ("The guide", -1000L)], Entries().Where(e => e.Payee == "Anna").Select(e => (e.Product, e.Amount)));
        _book.ImportOrders(Line("A", "1", "guide", "100.00"));
        Assert.Equal(1000, _book.Owed("anna"));
        Assert.Equal(2, _book.Get<BookDbContext, int>(db => db.OrderLines.Count()));
    }

    [Fact]
    public void A_rehearsal_looks_at_orders_whose_lines_were_dropped()
    {
        _book.ImportOrders(Line("A", "1", "guide", "100.00"), Line("A", "2", "print", "50.00"));
        _book.ImportOrders(Line("A", "2", "print", "50.00"));
        _book.MoveTo(new DateOnly(2026, 10, 31));
        var draft = Draft("Friends", Basis.Referral, "20", from: new DateOnly(2026, 10, 1));
        var id = _book.Get<Rehearsals, int>(r => r.Ask(1, "friends", draft, null, null, toPublish: false, Lead).Id!.Value);
        _book.Do<Rehearsals>(r => r.RunAll());
        Assert.Equal(1, _book.Get<Rehearsals, RehearsalView>(r => r.Find(id)!).Result!.Differing);
    }

    [Fact]
    public void A_correction_without_a_line_that_was_refunded_waits_and_keeps_nobody_else_out()
    {
        _book.ImportOrders(Line("A", "1", "guide", "100.00"), Line("A", "2", "print", "50.00"));
        _book.ImportRefunds("r1,A,2026-10-06T12:00:00Z,refund,1,1,100.00,0.00");
        var import = _book.ImportOrders(Line("A", "2", "print", "50.00"), Row("B"));
        Assert.Equal((1L, 0L, 1L), (import.Added, import.Changed, import.Quarantined));
        Assert.Equal("line_id '2': expected line 1 among the order's lines: refund r1 gives it back", Waiting());
    }

    /// <summary>Tax inside prices, a discount above what its line can bear and a fee: once the import stopped as a whole.</summary>
    [Fact]
    public void An_order_that_the_contract_does_not_allow_is_one_row_in_quarantine()
    {
        const string header = "order_id,channel,placed_at,paid_at,currency,prices_include_tax,order_discount,processing_fee,line_id,product,quantity,unit_price,line_tax\n";
        var import = _book.Read(_book.Queue(ImportKind.Orders, header
            + "A,shop,2026-10-05T12:00:00Z,2026-10-05T12:00:00Z,EUR,yes,9.00,0.40,1,guide,1,10.00,5.00\n"
            + "B,shop,2026-10-05T12:00:00Z,2026-10-05T12:00:00Z,EUR,yes,,0.40,1,guide,1,10.00,1.00\n"));
        Assert.Equal((ImportState.Done, 1L, 1L), (import.State, import.Added, import.Quarantined));
        Assert.Equal("line_tax '5.00': expected no more than the line's price after its discounts: prices include tax", Waiting());
    }

    [Fact]
    public void Amounts_beyond_all_figures_wait_with_their_reason_and_good_ones_go_in()
    {
        // Alone each could be held; what a rate makes of it could not.
        _book.Publish(Draft("Huge", Basis.Contribution, "1") with { Terms = [new TermDraft { Cases = [new CaseDraft { PerUnit = "90000000000000" }] }] });
        _book.PutOn("huge", "anna");
        _book.Recalculate();
        var import = _book.ImportOrders(Row("A", quantity: "9000000", price: "1.00"), Row("B"));
        Assert.Equal((ImportState.Done, 1L, 1L), (import.State, import.Added, import.Quarantined));
        Assert.Equal("an amount that comes of it is beyond the largest there is.", Waiting());
    }

    [Fact]
    public void An_origin_that_leads_back_waits_wherever_its_orders_come_from()
    {
        _book.ImportOrders(Row("A"), Row("B", origin: "A"), Row("C", origin: "B"));
        Assert.Equal(1, _book.ImportOrders(Row("A", origin: "C"), Row("D")).Quarantined);
        Assert.Equal("origin_order 'C': expected an order that does not itself renew this one", Waiting());
        // Of two that renew each other one can stay.
        Assert.Equal(1, _book.ImportOrders(Row("X", origin: "Y"), Row("Y", origin: "X")).Quarantined);
    }

    [Fact]
    public void What_is_held_back_on_a_line_stays_held_when_the_line_was_another_product()
    {
        _book.ImportOrders(Line("A", "1", "guide", "100.00"));
        var entry = _book.Get<BookDbContext, long>(db => db.Entries.Single(e => e.Payee == "anna").Id);
        _book.Do<EntryHolds>(h => h.Hold(entry, "Under inquiry", Lead));
        _book.ImportOrders(Line("A", "1", "print", "100.00"));
        Assert.All(_book.Get<BookDbContext, DateOnly?[]>(db => [.. db.Entries.Where(e => e.Payee == "anna").Select(e => e.ClearsOn)]), day => Assert.Null(day));
    }

    private string Waiting() => _book.Get<BookDbContext, string>(db => db.Quarantine.Where(q => q.State == QuarantineState.Waiting).OrderBy(q => q.Id).AsEnumerable().Last().Fault);

    private (string Product, long Amount)[] Statement(int run) => _book.Get<Statements, (string, long)[]>(s => [.. s.Find(run, "anna")!.Lines.Select(l => (l.Product, l.Amount.Minor))]);

    private IReadOnlyList<(string Product, string Payee, long Amount)> Entries() =>
        _book.Get<EntryList, (string, string, long)[]>(l => [.. l.All(new EntryFilter(null, null, "", EntryKindFilter.Any, null)).Select(e => (e.Product, e.Payee, e.Amount.Minor))]);
}
