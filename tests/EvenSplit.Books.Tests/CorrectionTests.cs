using EvenSplit.Books.Catalogue;
using EvenSplit.Books.Model;
using EvenSplit.Books.People;
using EvenSplit.Books.Sales;
using EvenSplit.Books.Terms;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;
using Microsoft.EntityFrameworkCore;
using static EvenSplit.Books.Tests.TestBook;

namespace EvenSplit.Books.Tests;

/// <summary>Facts that change after the event: differences are posted as new entries, and nothing that the change cannot touch is looked at.</summary>
public sealed class CorrectionTests : IDisposable
{
    private readonly TestBook _book = new();

    public void Dispose() => _book.Dispose();

    [Fact]
    public void An_order_assigned_by_hand_earns_for_its_payee_and_so_do_its_renewals()
    {
        _book.ImportOrders(Row("A"), Row("B", origin: "A"), Row("C"));
        Assign("A", "anna");
        Assert.Equal(2 * 1000, _book.Owed("anna"));
        Assert.Equal(["A", "B"], Entries().Where(e => e.Payee == "anna").Select(e => e.Order));
        Assign("A", "");
        Assert.Equal(0, _book.Owed("anna"));
        Assert.Equal(4, Entries().Count(e => e.Payee == "anna"));
    }

    [Fact]
    public void An_assignment_needs_a_reason_and_somebody_there_is()
    {
        _book.ImportOrders(Row("A"));
        Assert.Equal("Note", Assert.Throws<RefusedException>(() => _book.Do<AssignOrders>(c => c.ToOne(["A"], "anna", " "))).Field);
        Assert.Equal("Payee", Assert.Throws<RefusedException>(() => _book.Do<AssignOrders>(c => c.ToOne(["A"], "nobody", "why"))).Field);
        Assert.Equal("Orders", Assert.Throws<RefusedException>(() => Assign("Z", "anna")).Field);
        Assert.Equal(0, _book.Owed("anna"));
    }

    [Fact]
    public void What_an_assignment_would_post_is_what_it_posts_and_looking_changes_nothing()
    {
        _book.ImportOrders(Row("A"), Row("B", origin: "A"), Row("C", code: "ANNA"));
        var entries = Entries();
        Assignment[] both = [new("A", new PayeeId("anna"), "rang"), new("C", null, "by mistake")];
        var shown = _book.Get<AssignOrders, AssignmentDifference>(a => a.Show(both, Lead));
        Assert.Equal([("A", false), ("B", true)], shown.Orders.Select(o => (o.OrderId, o.Follows)));
        Assert.Equal([("Anna", 2000L)], shown.Posted.Select(p => (p.Payee, p.Amount.Minor)));
        Assert.Equal(entries, Entries());
        var posted = _book.Get<AssignOrders, AssignmentDifference>(a => a.Assign(both, Lead));
        Assert.Equal(shown.Posted, posted.Posted);
        Assert.Equal(entries.Count() + shown.Entries, Entries().Count());
    }

    [Fact]
    public void A_file_of_assignments_with_faults_names_each_and_one_without_assigns_all()
    {
        _book.ImportOrders(Row("A"), Row("B"));
        var (_, faults) = _book.Get<AssignOrders, (IReadOnlyList<Assignment>, IReadOnlyList<RowFault>)>(a => a.Read("order_id,payee,note\nA,anna,\nA,nobody,why\n"));
        Assert.Equal(["note is empty; expected a value", "order_id 'A': expected each order once", "payee 'nobody': expected the id of a payee in the book, or nothing to take an assignment back"], faults.Select(f => f.ToString()));
        var unknown = _book.Get<AssignOrders, RowFault>(a => a.Read("order_id,payee,note\nA,anna,why\n\nZ,anna,why\n").Faults.Single());
        Assert.Equal((4, "order_id 'Z': expected the id of an order in the book"), (unknown.Row, unknown.ToString()));
        _book.Do<AssignOrders>(a => a.Assign(a.Read("order_id;payee;note\nA;anna;rang\nB;anna;rang\n").Assignments, Lead));
        Assert.Equal(2000, _book.Owed("anna"));
    }

    [Fact]
    public void Orders_with_a_code_of_one_and_a_click_of_another_and_those_of_their_own_buyer_are_lists()
    {
        _book.Do<PayeeDesk>(p => Assert.Empty(p.Save(null, new PayeeDraft { Name = "Bert", Role = PayeeRole.Affiliate, PayoutCurrency = "EUR", ActiveFrom = new DateOnly(2026, 1, 1), CustomerKeys = "bert@example" }, Lead).Faults));
        _book.PutOn("friends", "bert");
        _book.ImportOrders(Row("A", code: "ANNA"), Row("B", code: "ANNA"), Row("C"));
        _book.Read(_book.Queue(ImportKind.Clicks, "payee,at,order_id\nbert,2026-10-05T10:00:00Z,A\nanna,2026-10-05T10:00:00Z,B\n"));
        Assert.Equal(["A"], Listed(OrderKindFilter.Contested));
        _book.Do<BookDbContext>(db => db.Orders.Where(o => o.OrderId == "C").ExecuteUpdate(set => set.SetProperty(o => o.CustomerKey, "bert@example")));
        Assign("C", "bert");
        Assert.Equal(["C"], Listed(OrderKindFilter.SelfReferral));

        IEnumerable<string> Listed(OrderKindFilter kind) =>
            _book.Get<SalesList, SalesPage>(l => l.Find(new SalesFilter(Period.Of(new DateOnly(2026, 10, 1)), kind, "", "", "", null))).Rows.Select(r => r.OrderId);
    }

    private void Assign(string order, string payee) => _book.Do<AssignOrders>(a => a.Assign(a.ToOne([order], payee, "rang to say so"), Lead));

    [Fact]
    public void What_is_assigned_by_hand_outlives_the_same_file()
    {
        _book.ImportOrders(Row("A"));
        Assign("A", "anna");
        Assert.Equal(1, _book.ImportOrders(Row("A")).Unchanged);
        Assert.Equal(1, _book.ImportOrders(Row("A", price: "200.00")).Changed);
        Assert.Equal(2000, _book.Owed("anna"));
    }

    [Fact]
    public void A_corrected_fee_posts_the_difference_into_the_next_run()
    {
        _book.Publish(Draft("Art", Basis.Contribution, "20", from: new DateOnly(2026, 2, 1)) with { DeductProcessingFee = true }, "art");
        _book.ImportOrders(Row("A"), Row("B"));
        _book.MoveTo(new DateOnly(2026, 10, 31));
        var first = _book.Pay(new DateOnly(2026, 10, 31));
        Assert.Equal(2 * 2000, _book.In(first, "ines").Earned);
        _book.MoveTo(new DateOnly(2026, 11, 30));
        _book.Do<CorrectOrder>(c => c.CorrectFees("A", "5.00", "", Lead));
        var second = _book.Pay(new DateOnly(2026, 11, 30));
        Assert.Equal(-100, _book.In(second, "ines").Earned);
        Assert.Equal([("A", 2000L, 1), ("B", 2000L, 1), ("A", -100L, 2)], Entries().Select(e => (e.Order, e.Amount, e.Run ?? 0)));
        Assert.Equal("ProcessingFee", Assert.Throws<RefusedException>(() => _book.Do<CorrectOrder>(c => c.CorrectFees("A", "five", "", Lead))).Field);
    }

    [Fact]
    public void A_sign_off_lets_entries_clear_without_a_new_one()
    {
        using var book = Small(new AgreementVersion
        {
            From = new DateOnly(2026, 1, 1),
            SignOff = SignOff.Manual,
            Terms = [new Term(Scope.All, [new TermCase(CaseConditions.None, new ShareRate(Rate.Parse("0.2")))])],
        });
        book.Take(On(5));
        book.Take(On(10));
        book.MoveTo(new DateOnly(2027, 3, 20));
        book.Do<CorrectOrder>(c => c.SignOff("day 05", Lead));
        Assert.Equal([new DateOnly(2027, 3, 20), null], book.Get<BookDbContext, DateOnly?[]>(db => db.Entries.OrderBy(e => e.Id).Select(e => e.ClearsOn).ToArray()));
        book.MoveTo(new DateOnly(2027, 3, 31));
        book.Pay(new RunRequest(new RunId("march"), new DateOnly(2027, 3, 31), null));
        Assert.Equal(200, book.Get<BookDbContext, long>(db => db.Remittances.Single().Earned));
        Assert.Throws<RefusedException>(() => book.Do<CorrectOrder>(c => c.SignOff("day 05", Lead)));
    }

    [Fact]
    public void A_version_in_the_past_looks_only_at_orders_its_payees_can_share_in()
    {
        _book.ImportOrders(Row("A", "2026-10-02"), Row("B", "2026-10-05", code: "ANNA"), Row("C", "2026-10-06", code: "ANNA"), Row("D", "2026-10-07"));
        _book.Publish(Draft("Friends", Basis.Referral, "15", from: new DateOnly(2026, 10, 6)), "friends");
        _book.Recalculate();
        Assert.Equal(1000 + 1500, _book.Owed("anna"));
        var done = _book.Get<BookDbContext, RecalculationRecord>(db => db.Recalculations.OrderBy(r => r.Id).Last());
        // A day to the safe side: B was placed on the day before.
        Assert.Equal((2L, 1L), (done.Done, done.Changed));
    }

    [Fact]
    public void A_rate_that_comes_late_looks_only_at_the_days_it_serves()
    {
        _book.ImportOrders(Row("A", "2026-09-01"), Row("B", "2026-10-05"), Row("C", "2026-10-20"));
        _book.Do<RateDesk>(r => r.Add([new ExchangeRate(new DateOnly(2026, 10, 3), Currency.Of("EUR"), Currency.Of("USD"), Rate.Parse("1.1"))], Lead));
        _book.Recalculate();
        Assert.Equal((1L, 0L), _book.Get<BookDbContext, (long, long)>(db => db.Recalculations.OrderBy(r => r.Id).Select(r => new ValueTuple<long, long>(r.Done, r.Changed)).Last()));
    }

    [Fact]
    public void A_late_order_moves_only_those_over_the_step_it_crosses()
    {
        var ladder = new AgreementVersion
        {
            From = new DateOnly(2026, 1, 1),
            Terms = [new Term(Scope.All, [new TermCase(new CaseConditions { OrdersAtLeast = 2 }, new ShareRate(Rate.Parse("0.2"))), new TermCase(CaseConditions.None, new ShareRate(Rate.Parse("0.1")))])],
        };
        using var book = Small(ladder);
        foreach (var day in new[] { 5, 10, 15, 20 }) book.Take(On(day));
        Assert.Equal([100, 100, 200, 200], Amounts());
        book.Take(On(1));
        // The second order stands on the step now; the third and fourth stood there before and are not touched.
        Assert.Equal([100, 100, 200, 200, 100, 100], Amounts());
        Assert.Equal("day 10", book.Get<BookDbContext, string>(db => db.Orders.Single(o => o.Id == db.Entries.OrderBy(e => e.Id).Last().OrderId).OrderId));
        book.Take(new Refund { Id = new RefundId("r"), Order = new OrderId("day 01"), At = new DateTimeOffset(2026, 3, 12, 0, 0, 0, TimeSpan.Zero), Kind = RefundKind.Cancel });
        // A refund takes nobody down a step they had reached.
        Assert.Equal([100, 100, 200, 200, 100, 100, -100], Amounts());

        long[] Amounts() => book.Get<BookDbContext, long[]>(db => db.Entries.OrderBy(e => e.Id).Select(e => e.Amount).ToArray());
    }

    /// <summary>Two payees reach a step at once through orders that come late: the later orders of both are worked out again.</summary>
    [Fact]
    public void Late_orders_that_lift_two_payees_lift_the_later_orders_of_both()
    {
        using var book = new TestBook();
        book.Do<PayeeDesk>(d => d.Save(null, new PayeeDraft { Name = "Bea", PayoutCurrency = "EUR", ActiveFrom = new DateOnly(2026, 1, 1), Codes = "BEA" }, TestBook.Lead));
        book.PutOn("friends", "bea");
        book.Publish(TestBook.Draft("Friends", Basis.Referral, "10", from: new DateOnly(2026, 2, 1)) with
        {
            Terms = [new TermDraft { Cases = [new CaseDraft { Sales = "100", Window = ProgressWindow.Month, Percent = "20" }, new CaseDraft { Percent = "10" }] }],
        }, "friends");
        book.Recalculate();
        book.ImportOrders(TestBook.Row("A2", "2026-10-10", "ANNA"), TestBook.Row("B2", "2026-10-11", "BEA"));
        Assert.Equal((1000L, 1000L), (book.Owed("anna"), book.Owed("bea")));
        book.ImportOrders(TestBook.Row("A1", "2026-10-02", "ANNA"), TestBook.Row("B1", "2026-10-01", "BEA"));
        Assert.Equal((3000L, 3000L), (book.Owed("anna"), book.Owed("bea")));
    }

    [Fact]
    public void The_database_lets_nobody_move_the_clearing_of_what_a_run_has_taken()
    {
        _book.ImportOrders(Row("A"));
        _book.MoveTo(new DateOnly(2026, 10, 31));
        _book.Pay(new DateOnly(2026, 10, 31));
        Assert.ThrowsAny<Exception>(() => _book.Do<BookDbContext>(db => db.Entries.ExecuteUpdate(set => set.SetProperty(e => e.ClearsOn, new DateOnly(2030, 1, 1)))));
    }

    /// <summary>A book with one product and one affiliate on one agreement.</summary>
    private static ScenarioBook Small(AgreementVersion version)
    {
        var euro = Currency.Of("EUR");
        var anna = new Payee
        {
            Id = new PayeeId("anna"),
            Role = PayeeRole.Affiliate,
            PayoutCurrency = euro,
            ActiveFrom = new DateOnly(2026, 1, 1),
            Codes = ["ANNA"],
            Memberships = [new Membership(new AgreementId("ref"), new DateOnly(2026, 1, 1), null)],
        };
        var rules = new Rulebook(
            new BookPolicy(euro, BookTime.Of("UTC"), ClickModel.Last), new ExchangeRates(euro, []), [], [],
            [new Product { Id = new ProductId("guide"), CostCurrency = euro }], [anna], [new Agreement(new AgreementId("ref"), Basis.Referral, euro, [version])]);
        return new ScenarioBook(new Facts(rules, [], [], [], [new RunRequest(new RunId("early"), new DateOnly(2026, 1, 1), [])]));
    }

    /// <summary>€10.00 brought by Anna on a day of March.</summary>
    private static Order On(int day) => new()
    {
        Id = new OrderId($"day {day:D2}"),
        Channel = new ChannelId("shop"),
        Currency = Currency.Of("EUR"),
        Codes = ["ANNA"],
        PlacedAt = new DateTimeOffset(2026, 3, day, 12, 0, 0, TimeSpan.Zero),
        PaidAt = new DateTimeOffset(2026, 3, day, 12, 0, 0, TimeSpan.Zero),
        Lines = [new OrderLine { Id = new LineId("1"), Product = new ProductId("guide"), Quantity = 1, UnitPrice = 1000 }],
    };

    private IReadOnlyList<(string Order, string Payee, long Amount, DateOnly? ClearsOn, int? Run)> Entries() => _book.Get<BookDbContext, (string, string, long, DateOnly?, int?)[]>(db =>
        db.Entries.OrderBy(e => e.Id).Join(db.Orders, e => e.OrderId, o => o.Id, (e, o) => new { o.OrderId, e.Payee, e.Amount, e.ClearsOn, e.RunId, e.Id })
            .OrderBy(e => e.Id).AsEnumerable().Select(e => (e.OrderId, e.Payee, e.Amount, e.ClearsOn, e.RunId)).ToArray());
}
