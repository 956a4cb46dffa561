using EvenSplit.Books.Desk;
using EvenSplit.Books.Ledger;
using EvenSplit.Books.Model;
using EvenSplit.Books.PayRuns;
using EvenSplit.Books.People;
using EvenSplit.Books.Sales;
using EvenSplit.Core;
using static EvenSplit.Books.Tests.TestBook;

namespace EvenSplit.Books.Tests;

/// <summary>What the screens are told: lists, their totals, balances and the steps of the month end.</summary>
public sealed class ScreensTests : IDisposable
{
    private static readonly Period October = new(202610);

    private readonly TestBook _book = new();

    public void Dispose() => _book.Dispose();

    private SalesPage Sales(OrderKindFilter kind = OrderKindFilter.Any, string by = "", string find = "", (long, long)? after = null) =>
        _book.Get<SalesList, SalesPage>(s => s.Find(new SalesFilter(October, kind, "", by, find, after)));

    private DeskView Desk() => _book.Get<OpenDesk, DeskView>(d => d.Find(October));

    private StepState State(StepKind kind) => Desk().Steps.Single(s => s.Kind == kind).State;

    [Fact]
    public void Sales_are_listed_a_page_at_a_time_and_each_once()
    {
        _book.ImportOrders([.. Enumerable.Range(1, 250).Select(i => Row($"O{i:D3}", $"2026-10-{1 + i % 28:D2}"))]);
        var seen = new List<string>();
        (long, long)? after = null;
        do
        {
            var page = Sales(after: after);
            Assert.Equal(250, page.Totals.Single().Orders);
            seen.AddRange(page.Rows.Select(r => r.OrderId));
            after = page.Next;
        }
        while (after is not null);
        Assert.Equal(250, seen.Count);
        Assert.Equal(250, seen.Distinct().Count());
    }

    [Fact]
    public void Filters_find_what_they_say_and_total_it()
    {
        _book.ImportOrders(Row("A", code: "ANNA"), Row("B"), Row("C", paid: false), Row("D", "2026-11-02"), Row("T") + "yes");
        _book.ImportRefunds("R1,B,2026-10-09T10:00:00Z,refund,1,0,25.00,0");
        Assert.Equal(["A", "B", "C", "T"], Sales().Rows.Select(r => r.OrderId));
        Assert.Equal(["C"], Sales(OrderKindFilter.Unpaid).Rows.Select(r => r.OrderId));
        Assert.Equal(["T"], Sales(OrderKindFilter.Test).Rows.Select(r => r.OrderId));
        Assert.Equal(["B"], Sales(OrderKindFilter.Refunded).Rows.Select(r => r.OrderId));
        Assert.Equal(["B"], Sales(by: "nobody").Rows.Select(r => r.OrderId));
        Assert.Equal(["A"], Sales(find: "ANNA").Rows.Select(r => r.OrderId));
        var anna = Sales(by: "anna");
        Assert.Equal((1, 10000, 1000), (anna.Totals.Single().Orders, anna.Totals.Single().Charged, anna.Totals.Single().Affiliates));
    }

    /// <summary>Any part of an id, at any length and in any letters, and codes; nothing of it is read as a pattern.</summary>
    [Theory]
    [InlineData("A-10", "A-100", "A-101", "B-A-10")]
    [InlineData("a-10", "A-100", "A-101", "B-A-10")]
    [InlineData("00", "A-100")]
    [InlineData("-", "A-100", "A-101", "B-A-10")]
    [InlineData("%1", "C%1")]
    [InlineData("%", "C%1")]
    [InlineData("_", new string[0])]
    [InlineData("\"", new string[0])]
    [InlineData("nna", "C%1")]
    [InlineData("no such text", new string[0])]
    public void A_text_finds_ids_and_codes_that_have_it(string text, params string[] found)
    {
        _book.ImportOrders(Row("A-100"), Row("A-101"), Row("B-A-10"), Row("C%1", code: "ANNA"));
        var page = Sales(find: text);
        Assert.Equal(found, page.Rows.Select(r => r.OrderId).Order(StringComparer.Ordinal));
        if (!page.AreTooMany) Assert.Equal(found.Length, page.Totals.Sum(t => t.Orders));
    }

    /// <summary>Whatever a list is narrowed to, its totals are those of its rows.</summary>
    [Fact]
    public void Totals_of_narrowed_lists_are_the_sums_of_their_rows()
    {
        _book.ImportOrders([.. Enumerable.Range(1, 40).Select(i => Row($"O{i}", $"2026-10-{1 + i % 28:D2}", i % 3 == 0 ? "ANNA" : "", paid: i % 7 != 0))]);
        _book.ImportRefunds([.. Enumerable.Range(1, 6).Select(i => $"R{i},O{i * 3},2026-10-29T10:00:00Z,refund,1,0,9.99,0")]);
        foreach (var kind in Enum.GetValues<OrderKindFilter>())
        {
            foreach (var by in new[] { "", "nobody", "anna" })
            {
                var page = Sales(kind, by);
                var paid = page.Rows.Where(r => r.Status == OrderStatus.Calculated).ToArray();
                Assert.Equal((paid.Length, paid.Sum(r => r.Charged), paid.Sum(r => r.House)), (page.Totals.Sum(t => t.Orders), page.Totals.Sum(t => t.Charged), page.Totals.Sum(t => t.House)));
            }
        }
        Assert.Equal(6, Sales(OrderKindFilter.Refunded).Rows.Count);
    }

    /// <summary>By every column, both ways, over more than a page; no amount is compared with one of another currency.</summary>
    [Fact]
    public void A_list_is_sorted_by_any_column_and_its_pages_follow_one_another()
    {
        _book.ImportOrders([.. Enumerable.Range(1, 130).Select(i => Row($"O{i:D3}", $"2026-10-{1 + i % 28:D2}", i % 3 == 0 ? "ANNA" : "", price: $"{10 + (i * 37 % 90)}.00")), .. Enumerable.Range(1, 5).Select(i => Row($"Y{i}", price: $"{5000 * i}").Replace(",EUR,", ",JPY,", StringComparison.Ordinal))]);
        foreach (var by in Enum.GetValues<SalesColumn>())
        {
            foreach (var isDescending in new[] { false, true })
            {
                SalesPage Page(int skip) => _book.Get<SalesList, SalesPage>(s => s.Find(new SalesFilter(October, OrderKindFilter.Any, "", "", "", null) { Sorting = new SalesSorting(by, isDescending, skip) }));
                SalesRow[] rows = [.. Page(0).Rows, .. Page(SalesList.PageSize).Rows];
                Assert.Equal(135, rows.Select(r => r.OrderId).Distinct().Count());
                Assert.Equal(isDescending, by == SalesColumn.Order ? rows[0].OrderId == "Y5" : isDescending);
                if (by < SalesColumn.Charged) continue;
                Assert.All(rows.TakeLast(5), r => Assert.Equal("JPY", r.Currency.Code));
                foreach (var currency in rows.GroupBy(r => r.Currency))
                {
                    var figures = currency.Select(r => Figure(r, by)).ToArray();
                    Assert.Equal(isDescending ? figures.OrderDescending() : figures.Order(), figures);
                }
            }
        }

        static long Figure(SalesRow row, SalesColumn column) => column switch
        {
            SalesColumn.Charged => row.Charged,
            SalesColumn.Tax => row.Tax,
            SalesColumn.Fees => row.Fees,
            SalesColumn.Affiliates => row.Affiliates,
            SalesColumn.Collaborators => row.Collaborators,
            SalesColumn.Vendors => row.Vendors,
            _ => row.House,
        };
    }

    [Fact]
    public void The_whole_months_totals_are_the_sums_of_its_rows()
    {
        _book.ImportOrders(Row("A", code: "ANNA"), Row("B", price: "33.33"), Row("C", paid: false), Row("T") + "yes");
        _book.ImportOrders(Row("B", price: "44.44"));
        var page = Sales();
        var paid = page.Rows.Where(r => r.Status == OrderStatus.Calculated).ToArray();
        var total = page.Totals.Single();
        Assert.Equal(
            (paid.Length, paid.Sum(r => r.Charged), paid.Sum(r => r.Affiliates), paid.Sum(r => r.Collaborators), paid.Sum(r => r.House)),
            (total.Orders, total.Charged, total.Affiliates, total.Collaborators, total.House));
    }

    [Fact]
    public void Kept_sums_equal_the_entries_they_keep_whatever_happened()
    {
        _book.Publish(Draft("Friends", Basis.Referral, "7", hold: 20, from: new DateOnly(2026, 10, 4)), "friends");
        _book.Recalculate();
        _book.ImportOrders([.. Enumerable.Range(1, 40).Select(i => Row($"O{i}", $"2026-10-{1 + i % 28:D2}", i % 3 == 0 ? "ANNA" : ""))]);
        _book.ImportRefunds([.. Enumerable.Range(1, 10).Select(i => $"R{i},O{i * 2},2026-10-29T10:00:00Z,{(i % 2 == 0 ? "cancel,,,," : "refund,1,0,9.99,0")}")]);
        _book.ImportOrders(Row("O1", price: "55.00"));
        _book.MoveTo(new DateOnly(2026, 11, 2));
        _book.Pay(new DateOnly(2026, 10, 31));
        _book.Publish(Draft("Art", Basis.Contribution, "12", from: new DateOnly(2026, 10, 10)), "art");
        _book.Recalculate();
        _book.Do<BookDbContext>(db =>
        {
            Assert.Equal(
                db.Entries.AsEnumerable().Where(e => e.RunId is null).GroupBy(e => (e.Payee, e.ClearsOn)).Select(g => $"{g.Key} {g.Sum(e => e.Amount)}").Order(StringComparer.Ordinal),
                db.OpenSums.AsEnumerable().Select(s => $"{(s.Payee, (DateOnly?)s.ClearsOn)} {s.Amount}").Order(StringComparer.Ordinal));
            Assert.Equal(
                db.Entries.AsEnumerable().GroupBy(e => (e.Period, e.Payee, e.RefundId is not null)).Select(g => $"{g.Key} {g.Count()} {g.Sum(e => e.Amount)}").Order(StringComparer.Ordinal),
                db.EntrySums.AsEnumerable().Select(s => $"{(s.Period, s.Payee, s.IsReversal)} {s.Entries} {s.Amount}").Order(StringComparer.Ordinal));
            var totals = db.PeriodTotals.Single();
            Assert.Equal((db.Orders.Count(), db.Orders.Sum(o => o.House), db.Orders.Sum(o => o.Collaborators)), ((int)totals.Orders, totals.House, totals.Collaborators));
        });
    }

    [Fact]
    public void A_ledger_runs_by_date_a_page_at_a_time_and_its_total_is_all_of_it()
    {
        _book.ImportOrders([.. Enumerable.Range(1, 130).Select(i => Row($"O{i}", $"2026-10-{28 - i % 28:D2}"))]);
        var first = Entries(null);
        var second = Entries(first.Next);
        Assert.Equal((100, 30, 130), (first.Rows.Count, second.Rows.Count, (int)first.Count));
        Assert.Null(second.Next);
        var dates = first.Rows.Concat(second.Rows).Select(r => r.PostedOn).ToArray();
        Assert.Equal(dates.OrderDescending(), dates);
        Assert.Equal(_book.Owed("ines"), first.Totals.Single().Minor);

        EntryPage Entries((DateOnly, long)? after) => _book.Get<EntryList, EntryPage>(l => l.Find(new EntryFilter(null, PayeeRole.Collaborator, "", EntryKindFilter.Any, after)));
    }

    [Fact]
    public void The_ledger_of_a_month_and_a_role_has_what_was_posted_in_that_month_to_payees_of_that_role()
    {
        _book.ImportOrders(Row("A", "2026-09-30"), Row("B", "2026-10-01"), Row("C", "2026-10-31"), Row("D", "2026-11-01"));
        var all = Found(null);
        var collaborators = Found(PayeeRole.Collaborator);
        Assert.Equal(["C", "B"], collaborators.Rows.Select(r => r.OrderId));
        Assert.Equal(all.Rows.Where(r => r.PayeeId == "ines").Select(r => r.Id), collaborators.Rows.Select(r => r.Id));
        Assert.Equal((2, collaborators.Rows.Sum(r => r.Amount.Minor)), ((int)collaborators.Count, collaborators.Totals.Single().Minor));
        Assert.Empty(Found(PayeeRole.Vendor).Rows);

        EntryPage Found(PayeeRole? role) => _book.Get<EntryList, EntryPage>(l => l.Find(new EntryFilter(new Period(202610), role, "", EntryKindFilter.Any, null)));
    }

    [Fact]
    public void A_balance_moves_from_held_to_cleared_to_a_run_to_paid()
    {
        _book.Publish(Draft("Art", Basis.Contribution, "20", hold: 10, from: new DateOnly(2026, 2, 1)), "art");
        _book.Recalculate();
        _book.ImportOrders(Row("A", "2026-10-15"));
        _book.MoveTo(new DateOnly(2026, 10, 20));
        Assert.Equal((2000, 0, 0, 0), Balance());
        _book.MoveTo(new DateOnly(2026, 10, 25));
        Assert.Equal((0, 2000, 0, 0), Balance());
        _book.MoveTo(new DateOnly(2026, 11, 1));
        var run = _book.Pay(new DateOnly(2026, 10, 31));
        Assert.Equal((0, 0, 2000, 0), Balance());
        _book.MarkPaid(run, "ines", new DateOnly(2026, 11, 1), "T");
        Assert.Equal((0, 0, 0, 2000), Balance());

        (long Held, long Cleared, long InRun, long Paid) Balance()
        {
            var balance = _book.Get<PeopleList, Balance>(p => p.Find(null, "Ines").Single().Balance);
            return (balance.Held.Sum(m => m.Minor), balance.Cleared.Sum(m => m.Minor), balance.InRun.Minor, balance.Paid.Minor);
        }
    }

    [Fact]
    public void The_desk_leads_through_the_month_end()
    {
        Assert.Equal((StepState.Next, StepState.Blocked), (State(StepKind.Sales), State(StepKind.Gather)));
        // Nothing of processors, banks and partners was ever brought in; reports come before the run, the bank after the payments.
        Assert.Equal((StepState.Later, StepState.Later), (State(StepKind.Reports), State(StepKind.Bank)));
        Assert.Equal([StepKind.Sales, StepKind.Quarantine, StepKind.Exceptions, StepKind.Reports, StepKind.Gather, StepKind.Lock, StepKind.Approve, StepKind.Pay, StepKind.Bank, StepKind.Close, StepKind.CloseMonth], Desk().Steps.Select(s => s.Kind));
        _book.ImportOrders(Row("A", code: "ANNA"), Row("B", quantity: "0"));
        _book.MoveTo(new DateOnly(2026, 11, 2));
        Assert.Equal((StepState.Done, StepState.Next, StepState.Blocked), (State(StepKind.Sales), State(StepKind.Quarantine), State(StepKind.Gather)));
        _book.Do<Importing.QuarantineDesk>(q => q.Discard(1, "B", Lead));
        Assert.Equal((StepState.Done, StepState.Next, StepState.Later), (State(StepKind.Quarantine), State(StepKind.Gather), State(StepKind.Lock)));
        var run = _book.Pay(new DateOnly(2026, 10, 31));
        Assert.Equal((StepState.Done, StepState.Next, StepState.Later), (State(StepKind.Approve), State(StepKind.Pay), State(StepKind.Close)));
        foreach (var row in run.Rows.Where(r => r.Figures.Paid > 0)) _book.MarkPaid(run, row.Payee, new DateOnly(2026, 11, 2), "T");
        Assert.Equal(StepState.Next, State(StepKind.Close));
        _book.Do<PayRunSteps>(s => s.Close(run.Id, Lead));
        Assert.All(Desk().Steps, step => Assert.Equal(step.Kind switch { StepKind.CloseMonth => StepState.Next, StepKind.Reports or StepKind.Bank => StepState.Later, _ => StepState.Done }, step.State));
        var ribbon = Desk().Ribbons.Single();
        Assert.Equal(ribbon.Whole, ribbon.Parts.Sum(p => p.Amount));
    }

    [Fact]
    public void The_demo_clock_moves_forward_only()
    {
        _book.MoveTo(new DateOnly(2026, 10, 9));
        Assert.Throws<RefusedException>(() => _book.MoveTo(new DateOnly(2026, 10, 8)));
        Assert.Equal(new DateOnly(2026, 10, 9), _book.Get<BookClock, DateOnly>(c => c.Today));
        Assert.Equal(new DateOnly(2026, 10, 9), BookTime.Of("Europe/Dublin").DateOf(_book.Get<BookClock, DateTimeOffset>(c => c.GetUtcNow())));
    }

    [Theory]
    [InlineData("b-1", "Order AB-1")]
    [InlineData("AB", "Order AB-1,Order AB-2")]
    [InlineData("ann", "Order ANNEX,Payee anna")]
    [InlineData("ANNA@hedge", "Payee anna")]
    [InlineData("uid", "Product guide")]
    [InlineData("rien", "Agreement friends")]
    [InlineData("zzz", "")]
    [InlineData("%", "")]
    public void Search_finds_by_any_part_in_any_case_the_beginning_first(string text, string found)
    {
        _book.ImportOrders(Row("A"), Row("AB-1"), Row("AB-2"), Row("ANNEX"));
        _book.Do<PayeeDesk>(d => Assert.Empty(d.Save("anna", d.Draft("anna")! with { Email = "anna@hedgerow.example" }, Lead).Faults));
        Assert.Equal(found, string.Join(',', _book.Get<FindAnything, IReadOnlyList<Found>>(f => f.ByText(text)).Select(f => $"{f.Kind} {f.Id}")));
    }
}
