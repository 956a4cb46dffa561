using EvenSplit.Books.Forms;
using EvenSplit.Books.Model;
using EvenSplit.Books.Terms;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Tests;

/// <summary>Leaderboards: who brought what in a campaign, and who sees it.</summary>
public sealed class LeaderboardTests : IDisposable
{
    private static readonly DateOnly First = new(2026, 10, 1), Last = new(2026, 10, 31);

    private readonly TestBook _book = new();
    private DateTimeOffset _now = new(2026, 11, 3, 12, 0, 0, TimeSpan.Zero);

    public LeaderboardTests()
    {
        _book.MoveTo(new DateOnly(2026, 10, 20));
        foreach (var name in new[] { "Ben", "Cora" })
        {
            _book.AddPayee(name, PayeeRole.Affiliate, name.ToUpperInvariant());
            _book.PutOn("friends", name.ToLowerInvariant());
        }
        _book.Recalculate();
    }

    public void Dispose() => _book.Dispose();

    [Fact]
    public void Orders_rank_by_the_day_they_are_paid_and_equals_share_a_place()
    {
        Open(LeaderboardMeasure.Sales, showsNames: true);
        _book.ImportOrders(
            TestBook.Row("A1", "2026-10-02", "ANNA"), TestBook.Row("B1", "2026-10-31", "BEN", price: "60.00"), TestBook.Row("B2", "2026-10-03", "BEN", price: "40.00"), TestBook.Row("C1", "2026-10-04", "CORA", price: "99.99"),
            TestBook.Row("OUT", "2026-11-01", "CORA"), TestBook.Row("UNPAID", "2026-10-05", "CORA", paid: false), TestBook.Row("NOBODY", "2026-10-05"));
        WorkOut();
        Assert.Equal([(1, "Anna", 10000L), (1, "Ben", 10000L), (3, "Cora", 9999L)], Places());

        var cora = Assert.Single(Of("cora"));
        Assert.Equal((3, 3, "sales of €99.99"), (cora.Rank, cora.Of, cora.Figure));
        Assert.Equal([(1, "Anna"), (1, "Ben"), (3, "Cora")], cora.First);
        // An illustrator is no affiliate.
        Assert.Empty(Of("ines"));
    }

    [Fact]
    public void What_was_refunded_does_not_count_and_late_facts_are_taken_up()
    {
        Open(LeaderboardMeasure.Orders);
        _book.ImportOrders(TestBook.Row("A1", "2026-10-02", "ANNA"), TestBook.Row("A2", "2026-10-03", "ANNA"), TestBook.Row("B1", "2026-10-03", "BEN"));
        WorkOut();
        Assert.Equal([(1, "Anna", 2L), (2, "Ben", 1L)], Places());
        Assert.Empty(Of("anna")[0].First);

        _book.ImportRefunds("R1,A1,2026-10-06T10:00:00Z,refund,1,1,100.00,0", "R2,A2,2026-10-06T10:00:00Z,refund,1,1,10.00,0");
        // Not before it is due, however often it is asked.
        Assert.False(Next(_now.AddMinutes(1), _now));
        Assert.False(Next(_now.AddHours(1), _now.AddHours(-1)));
        Assert.True(Next(_now.AddHours(1), _now.AddMinutes(1)));
        Assert.Equal([(1, "Ben", 1L)], Places());
        Assert.Null(Of("anna")[0].Rank);
    }

    [Fact]
    public void New_customers_are_counted_only_as_new()
    {
        Open(LeaderboardMeasure.NewCustomers);
        _book.ImportOrders(TestBook.Row("A1", "2026-10-02", "ANNA"), TestBook.Row("B1", "2026-10-02", "BEN"));
        _book.Do<BookDbContext>(db => db.Orders.Where(o => o.OrderId == "B1").ExecuteUpdate(set => set.SetProperty(o => o.Customer, CustomerKind.Returning)));
        WorkOut();
        Assert.Equal([(1, "Anna", 1L)], Places());
    }

    [Fact]
    public void Other_currencies_count_at_the_rate_of_the_last_day()
    {
        _book.Do<BookDbContext>(db =>
        {
            foreach (var (day, rate) in new[] { (19, 400_000), (20, 500_000) }) db.ExchangeRates.Add(new ExchangeRateRecord { From = "USD", To = "EUR", Date = new DateOnly(2026, 10, day), Rate = new Rate(rate) });
            db.SaveChanges();
            db.Book.ExecuteUpdate(set => set.SetProperty(b => b.RulesVersion, b => b.RulesVersion + 1));
        });
        Open(LeaderboardMeasure.Sales);
        _book.ImportOrders(TestBook.Row("A1", "2026-10-02", "ANNA", price: "51.00"), TestBook.Row("B1", "2026-10-19", "BEN").Replace(",EUR,", ",USD,", StringComparison.Ordinal));
        WorkOut();
        Assert.Equal([(1, "Anna", 5100L), (2, "Ben", 5000L)], Places());
    }

    [Fact]
    public void Only_whoever_is_on_the_agreement_takes_part_and_who_has_left_is_named_no_more()
    {
        Open(LeaderboardMeasure.Orders, agreement: "art");
        Open(LeaderboardMeasure.Orders, agreement: "friends", name: "Second");
        _book.ImportOrders(TestBook.Row("A1", "2026-10-02", "ANNA"), TestBook.Row("B1", "2026-10-03", "BEN"));
        WorkOut();
        Assert.True(Next(_now, _now));
        Assert.Equal([0, 2], _book.Get<Leaderboards, IReadOnlyList<LeaderboardView>>(b => b.List()).Select(b => b.Count).Order());
        Assert.Equal("Second", Assert.Single(Of("anna")).Name);
        _book.Do<BookDbContext>(db =>
        {
            db.Payees.Where(p => p.Id == "ben").ExecuteUpdate(set => set.SetProperty(p => p.ActiveTo, new DateOnly(2026, 10, 15)));
            db.Book.ExecuteUpdate(set => set.SetProperty(b => b.RulesVersion, b => b.RulesVersion + 1));
        });
        while (Next(_now.AddHours(1), _now.AddMinutes(1)))
        {
        }
        Assert.Equal([0, 1], _book.Get<Leaderboards, IReadOnlyList<LeaderboardView>>(b => b.List()).Select(b => b.Count).Order());
    }

    [Fact]
    public void What_is_left_out_is_said_at_its_field_and_one_taken_away_is_gone()
    {
        Assert.Equal(["Agreement", "From", "Name", "To"], Try(new LeaderboardDraft { Agreement = "none" }).Select(f => f.Field).Order(StringComparer.Ordinal));
        Assert.Equal(["To"], Try(new LeaderboardDraft { Name = "N", From = Last, To = First }).Select(f => f.Field));
        Open(LeaderboardMeasure.Orders);
        WorkOut();
        _book.Do<Leaderboards>(b => b.TakeAway(1, TestBook.Lead));
        Assert.Empty(_book.Get<Leaderboards, IReadOnlyList<LeaderboardView>>(b => b.List()));
    }

    private IReadOnlyList<FieldFault> Try(LeaderboardDraft draft) => _book.Get<Leaderboards, IReadOnlyList<FieldFault>>(b => b.Open(draft, TestBook.Lead));

    private void Open(LeaderboardMeasure measure, bool showsNames = false, string agreement = "", string name = "October") =>
        Assert.Empty(Try(new LeaderboardDraft { Name = name, Measure = measure, ShowsNames = showsNames, Agreement = agreement, From = First, To = Last }));

    private void WorkOut() => Assert.True(Next(_now, _now));

    private bool Next(DateTimeOffset now, DateTimeOffset change) => _book.Get<Leaderboards, bool>(b => b.WorkOutNext(now, change));

    private IEnumerable<(int, string, long)> Places() => _book.Get<Leaderboards, IReadOnlyList<LeaderboardView>>(b => b.List())[0].Places.Select(p => (p.Rank, p.Payee, p.Figure));

    private IReadOnlyList<OwnLeaderboard> Of(string payee) => _book.Get<Leaderboards, IReadOnlyList<OwnLeaderboard>>(b => b.Of(payee));
}
