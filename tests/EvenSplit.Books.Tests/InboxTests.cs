using System.Text;
using EvenSplit.Books.Importing;
using EvenSplit.Books.Model;
using EvenSplit.Books.Sales;
using EvenSplit.Core;
using EvenSplit.Formats.Events;
using static EvenSplit.Books.Tests.TestBook;

namespace EvenSplit.Books.Tests;

/// <summary>Events in any order come to the same; none is lost, none counts twice; clicks find the orders they led to.</summary>
public sealed class InboxTests : IDisposable
{
    private static readonly string[] Story =
    [
        Order("A", "\"coupon_codes\": [\"ANNA\"]"), Payment("A"), Refund("R", "A"), Order("B", "\"visitor\": \"v1\""), Payment("B"),
        """{ "type": "click", "data": { "payee": "anna", "at": "2026-10-04T12:00:00Z", "visitor": "v1", "page": "/p/guide", "source": "podcast.example/1" } }""",
        Order("C", "\"paid_at\": \"2026-10-05T12:01:00Z\""),
    ];

    private readonly TestBook _book = new();

    public void Dispose() => _book.Dispose();

    [Theory]
    [InlineData(0)]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    public void In_whatever_order_events_come_the_book_comes_to_the_same(int seed)
    {
        var order = Enumerable.Range(0, Story.Length).ToArray();
        if (seed > 0) new Random(seed).Shuffle(order);
        foreach (var i in order)
        {
            Send($"e{i}", Story[i]);
            if (i % 2 == seed % 2) Take();
        }
        foreach (var i in order) Send($"e{i}", Story[i]);
        Take();
        Assert.Empty(_book.Get<Inbox, IReadOnlyDictionary<EventState, int>>(i => i.Waiting()));
        Assert.Equal(Story.Length, _book.Get<BookDbContext, int>(db => db.Inbox.Count()));
        Assert.Equal(["A", "B", "C"], _book.Get<BookDbContext, string[]>(db => [.. db.Orders.Where(o => o.Status == OrderStatus.Calculated).OrderBy(o => o.OrderId).Select(o => o.OrderId)]));
        // A by its code, refunded; B by the click; C by nobody. The illustrator shares in all three.
        Assert.Equal((240L, 2 * 480L), (_book.Owed("anna"), _book.Owed("ines")));
        Assert.Equal("podcast.example/1", Assert.Single(_book.Get<ClickReport, IReadOnlyList<ClickRow>>(r => r.Find(Period.Of(new DateOnly(2026, 10, 4)), ""))).Source);
        Assert.Equal(1, _book.Get<ClickReport, IReadOnlyList<ClickRow>>(r => r.Find(Period.Of(new DateOnly(2026, 10, 4)), "anna"))[0].Orders);
        var days = _book.Get<ClickReport, IReadOnlyList<ClickDay>>(r => r.Days(Period.Of(new DateOnly(2026, 10, 4)), "anna"));
        Assert.Equal((_book.Get<BookDbContext, int>(db => db.Clicks.Count(c => c.Payee == "anna")), 1), (days.Sum(d => d.Clicks), days.Sum(d => d.Orders)));
        Assert.Empty(_book.Get<ClickReport, IReadOnlyList<ClickDay>>(r => r.Days(Period.Of(new DateOnly(2026, 10, 4)), "ines")));
    }

    [Fact]
    public void What_is_typed_in_goes_in_like_what_a_shop_sends()
    {
        Assert.Empty(Enter(SalesEventKind.Order, Typed(("order_id", "H"), ("channel", "shop"), ("placed_at", "2026-10-05T12:00"), ("currency", "EUR"), ("coupon_codes", "ANNA")),
            [], Typed(("product", "guide"), ("quantity", "2"), ("unit_price", "24.00"))));
        Take();
        Assert.Equal(0, _book.Owed("anna"));
        Assert.Empty(Enter(SalesEventKind.Payment, Typed(("order_id", "H"), ("paid_at", "2026-10-05T12:01"))));
        Take();
        Assert.Equal((480L, 960L), (_book.Owed("anna"), _book.Owed("ines")));
        Assert.Empty(Enter(SalesEventKind.Refund, Typed(("refund_id", "HR"), ("order_id", "H"), ("at", "2026-10-09T10:00"), ("kind", "refund")), Typed(("line_id", "1"), ("quantity", "1"), ("goods", "24.00"))));
        Take();
        Assert.Equal((240L, 480L), (_book.Owed("anna"), _book.Owed("ines")));
    }

    [Fact]
    public void What_is_wrong_with_what_is_typed_in_is_told_at_its_cell_and_nothing_is_stored()
    {
        var faults = Enter(SalesEventKind.Order, Typed(("order_id", "H"), ("channel", "shop"), ("placed_at", "soon"), ("currency", "EUR")),
            [], Typed(("product", "unicorn"), ("quantity", "1"), ("unit_price", "24.005")));
        Assert.Equal(["Cells[placed_at]", "Lines[1][product]", "Lines[1][unit_price]"], faults.Select(f => f.Field).Order(StringComparer.Ordinal));
        Assert.Equal("Lines", Assert.Single(Enter(SalesEventKind.Order, Typed(("order_id", "H")))).Field);
        Assert.Equal("Cells[order_id]", Assert.Single(Enter(SalesEventKind.Payment, Typed(("order_id", "nobody"), ("paid_at", "2026-10-05T12:01")))).Field);
        Assert.Equal("Cells[payee]", Assert.Single(Enter(SalesEventKind.Click, Typed(("payee", "nobody"), ("at", "2026-10-05T12:01"), ("visitor", "v")))).Field);
        Assert.Equal(0, _book.Get<BookDbContext, int>(db => db.Inbox.Count()));
    }

    [Fact]
    public void An_earlier_report_that_comes_late_does_not_unpay_an_order()
    {
        Send("1", Order("A", "\"paid_at\": \"2026-10-05T12:01:00Z\""));
        Take();
        Send("2", Order("A", "\"coupon_codes\": [\"ANNA\"]"));
        Take();
        Assert.Equal(OrderStatus.Calculated, _book.Get<BookDbContext, OrderStatus>(db => db.Orders.Single().Status));
        Assert.Equal(240, _book.Owed("anna"));
    }

    [Fact]
    public void A_faulty_event_waits_in_quarantine_and_holds_up_no_other()
    {
        Send("1", Order("BAD", "", product: "spade"));
        Send("2", Order("GOOD", ""));
        Send("3", Payment("BAD"));
        Take();
        Assert.Equal(["GOOD"], _book.Get<BookDbContext, string[]>(db => [.. db.Orders.Select(o => o.OrderId)]));
        Assert.Equal([EventState.WaitsForOrder, EventState.Quarantined], _book.Get<Inbox, IReadOnlyList<InboxEventRecord>>(i => i.NotTaken()).Select(e => e.State));
        var waiting = Assert.Single(_book.Get<QuarantineDesk, IReadOnlyList<WaitingGroup>>(q => q.Waiting()));
        Assert.Equal(("BAD", "events of 1 Oct 2026"), (waiting.Group, waiting.FileName));
        // Corrected in place, the order goes in and what waited for it follows.
        _book.Do<QuarantineDesk>(q => q.SendAgain(waiting.ImportId, "BAD", waiting.Rows.ToDictionary(r => r.Id, r => (IReadOnlyDictionary<string, string>)new Dictionary<string, string>(r.Cells) { ["product"] = "guide" }), Lead));
        Take();
        Assert.Equal(2, _book.Get<BookDbContext, int>(db => db.Orders.Count(o => o.PaidAt != null || o.OrderId == "GOOD")));
        Assert.Equal(OrderStatus.Calculated, _book.Get<BookDbContext, OrderStatus>(db => db.Orders.Single(o => o.OrderId == "BAD").Status));
    }

    [Fact]
    public void An_amount_beyond_all_fails_by_itself()
    {
        Send("1", Order("HUGE", "\"paid_at\": \"2026-10-05T12:01:00Z\"", price: "90071992547409.91", quantity: 100_000));
        Send("2", Order("GOOD", ""));
        Take();
        var failed = Assert.Single(_book.Get<Inbox, IReadOnlyList<InboxEventRecord>>(i => i.NotTaken()));
        Assert.Contains(failed.State, new[] { EventState.Failed, EventState.Quarantined });
        Assert.Equal(["GOOD"], _book.Get<BookDbContext, string[]>(db => [.. db.Orders.Select(o => o.OrderId)]));
    }

    [Fact]
    public void Test_orders_are_in_no_figure_and_go_after_an_hour()
    {
        Send("1", Order("T", "\"test\": true, \"coupon_codes\": [\"ANNA\"]"));
        Send("2", Payment("T"));
        Send("3", Refund("R", "T"));
        Take();
        var row = Assert.Single(_book.Get<TestOrders, IReadOnlyList<TestOrderRow>>(t => t.List()));
        Assert.Equal(0, _book.Owed("anna"));
        Assert.Equal(0, _book.Get<TestOrders, int>(t => t.Remove(row.GoneAt!.Value.AddSeconds(-1))));
        Assert.Equal(1, _book.Get<TestOrders, int>(t => t.Remove(row.GoneAt!.Value)));
        Assert.Equal((0, 0), _book.Get<BookDbContext, (int, int)>(db => (db.Orders.Count(), db.Refunds.Count())));
    }

    [Fact]
    public void An_order_marked_as_a_test_gives_back_what_it_earned_and_stays()
    {
        _book.ImportOrders(Row("A", code: "ANNA"));
        _book.Do<CorrectOrder>(c => c.MarkAsTest("A", Lead));
        Assert.Equal((0L, 0L), (_book.Owed("anna"), _book.Get<BookDbContext, long>(db => db.PeriodTotals.Sum(t => t.Orders))));
        Assert.Equal(0, _book.Get<TestOrders, int>(t => t.Remove(DateTimeOffset.MaxValue)));
        Assert.Throws<RefusedException>(() => _book.Do<CorrectOrder>(c => c.MarkAsTest("A", Lead)));
    }

    [Fact]
    public void Clicks_of_a_file_find_their_orders_and_the_same_file_changes_nothing()
    {
        _book.ImportOrders(Row("A"));
        const string Csv = "payee,at,order_id,visitor,page,source\nanna,2026-10-04T12:00:00Z,A,,/p,x.example\nanna,2026-10-04T12:00:00Z,,,/p,\nnobody,2026-10-04T12:00:00Z,A,,/p,\n";
        var import = _book.Read(_book.Queue(ImportKind.Clicks, Csv));
        Assert.Equal((1, 2), (import.Added, import.Quarantined));
        Assert.Equal(1000, _book.Owed("anna"));
        Assert.Equal((0, 1), (_book.Read(_book.Queue(ImportKind.Clicks, Csv)) is var again ? again.Added : -1, again.Unchanged));
    }

    [Fact]
    public void A_source_has_a_secret_of_its_own_until_it_is_closed()
    {
        var (id, secret) = _book.Get<EventSources, (string, string)>(s => s.Add("The shop", null, Lead));
        Assert.Equal([(id, secret)], Secrets());
        if (!OperatingSystem.IsWindows()) Assert.Equal(UnixFileMode.UserRead | UnixFileMode.UserWrite, File.GetUnixFileMode(Path.Combine(_book.Place.Keys, "source-the-shop.secret")));
        var second = _book.Get<EventSources, string>(s => s.Renew(id, Lead));
        Assert.NotEqual(secret, second);
        _book.Do<EventSources>(s => s.Close(id, Lead));
        Assert.Empty(Secrets());
    }

    [Theory]
    [InlineData("ftp://shop.example")]
    [InlineData("https://shop.example/path")]
    [InlineData("https://somebody@shop.example")]
    [InlineData("shop.example")]
    public void Links_lead_to_a_web_site_only(string address) =>
        Assert.Equal("ShopAddress", Assert.Throws<RefusedException>(() => _book.Do<EventSources>(s => s.SetShopAddress(address, Lead))).Field);

    private (string, string)[] Secrets() => [.. _book.Get<EventSources, IReadOnlyDictionary<string, string>>(s => s.Secrets()).Select(s => (s.Key, s.Value))];

    private void Send(string id, string json)
    {
        var body = Encoding.UTF8.GetBytes(json);
        _book.Do<Inbox>(i => i.Store([new ReceivedEvent(id, "shop", SalesEventJson.Read(body), body, DateTimeOffset.UnixEpoch)]));
    }

    private IReadOnlyList<Forms.FieldFault> Enter(SalesEventKind kind, Dictionary<string, string> cells, params Dictionary<string, string>[] lines) =>
        _book.Get<HandEntry, IReadOnlyList<Forms.FieldFault>>(h => h.Enter(new HandDraft { Kind = kind, Cells = cells, Lines = [.. lines] }, Lead));

    private static Dictionary<string, string> Typed(params (string Column, string Text)[] cells) => cells.ToDictionary(c => c.Column, c => c.Text);

    private void Take() => _book.Do<TakeEvents>(t => t.RunAll());

    private static string Order(string id, string more, string product = "guide", string price = "24.00", long quantity = 1) =>
        $$"""{ "type": "order", "data": { "order_id": "{{id}}", "channel": "shop", "placed_at": "2026-10-05T12:00:00Z", "currency": "EUR"{{(more.Length > 0 ? ", " + more : "")}}, "lines": [ { "line_id": "1", "product": "{{product}}", "quantity": {{quantity}}, "unit_price": "{{price}}" } ] } }""";

    private static string Payment(string order) => $$"""{ "type": "payment", "data": { "order_id": "{{order}}", "paid_at": "2026-10-05T12:01:00Z" } }""";

    private static string Refund(string id, string order) => $$"""{ "type": "refund", "data": { "refund_id": "{{id}}", "order_id": "{{order}}", "at": "2026-10-06T12:00:00Z", "kind": "cancel" } }""";
}
