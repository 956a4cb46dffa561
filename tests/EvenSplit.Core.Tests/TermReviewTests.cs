using static EvenSplit.Core.Tests.SmallBook;

namespace EvenSplit.Core.Tests;

/// <summary>What a term's steps look like, and what is said about a version that is allowed and mostly a slip.</summary>
public sealed class TermReviewTests
{
    private static readonly Naming Plain = new(p => p.Value, a => a.Value, p => p.Value);
    private static readonly Product Guide = new() { Id = new ProductId("guide"), CostCurrency = Eur, ReturnDays = 14, Collections = [new CollectionId("books")] };

    [Fact]
    public void Bands_step_where_a_case_begins_to_hold()
    {
        var line = Assert.Single(RateSteps.Of(new Term(Scope.All, [From(25000, "0.11"), From(8000, "0.09"), Always("0.07")])));
        Assert.Equal((StepAxis.OrderValue, ""), (line.Axis, line.For));
        Assert.Equal([(0L, "0.07"), (8000L, "0.09"), (25000L, "0.11")], line.Steps.Select(s => (s.From, s.Case!.Rate.Percent.ToString()!)));
    }

    [Fact]
    public void What_no_band_reaches_is_a_gap()
    {
        var term = new Term(Scope.All, [From(25000, "0.11"), From(8000, "0.09")]);
        Assert.Null(RateSteps.Of(term)[0].Steps[0].Case);
        Assert.Contains("Of everything: a gap. With an order below €80 nothing is earned.", Review(term));
    }

    [Fact]
    public void Customers_are_drawn_apart_where_a_case_tells_them_apart()
    {
        var term = new Term(Scope.All, [new TermCase(new CaseConditions { Customer = CustomerKind.New, OrderValueAtLeast = 5000 }, Percent("0.2")), Always("0.05")]);
        Assert.Equal(["new customers", "returning customers"], RateSteps.Of(term).Select(l => l.For));
        Assert.Single(RateSteps.Of(term)[1].Steps);
        Assert.Empty(RateSteps.Of(new Term(Scope.All, [Always("0.05")])));
    }

    [Fact]
    public void A_case_behind_one_that_always_comes_first_is_never_reached() => Assert.Contains(
        "Of everything: case 2 (orders from €250) is never reached, since case 1 (orders from €80) comes before it and holds whenever it would.",
        Review(new Term(Scope.All, [From(8000, "0.09"), From(25000, "0.11"), Always("0.07")])));

    [Theory]
    [InlineData(ProgressWindow.Month, ProgressWindow.Month, true)]
    [InlineData(ProgressWindow.Month, ProgressWindow.Year, false)]
    public void Ladders_hide_each_other_only_when_counted_over_the_same_time(ProgressWindow first, ProgressWindow second, bool hidden)
    {
        TermCase After(long orders, ProgressWindow window) => new(new CaseConditions { OrdersAtLeast = orders, Window = window }, Percent("0.1"));
        Assert.Equal(hidden, Review(new Term(Scope.All, [After(10, first), After(20, second), Always("0.05")])).Any(w => w.Contains("never reached", StringComparison.Ordinal)));
    }

    [Fact]
    public void A_rate_that_falls_is_told() => Assert.Contains(
        "Of everything: the rate falls at €250, from 9 % of the share base to 4 % of the share base.",
        Review(new Term(Scope.All, [From(25000, "0.04"), Always("0.09")])));

    [Fact]
    public void A_payment_between_two_cases_is_told_as_left_out()
    {
        TermCase Payments(int? from, int? to) => new(new CaseConditions { PaymentFrom = from, PaymentTo = to }, Percent("0.1"));
        Assert.Contains("Of everything: payment 2 is in no case, so that nothing is earned on it.", Review(new Term(Scope.All, [Payments(1, 1), Payments(3, 4)])));
        Assert.DoesNotContain(Review(new Term(Scope.All, [Payments(1, 1), Payments(2, null)])), w => w.Contains("in no case", StringComparison.Ordinal));
    }

    [Fact]
    public void Short_holds_one_day_windows_doubled_and_empty_scopes_and_large_shares_are_told()
    {
        var version = Version("0.6") with
        {
            WindowDays = 1,
            Terms = [new Term(Scope.All, [Always("0.6")]), new Term(Scope.All, [Always("0.1")]), new Term(Scope.Of(new CollectionId("hats")), [Always("0.1")])],
        };
        var told = TermReview.Unusual(version, Basis.Referral, Eur, [Guide], Plain).ToArray();
        Assert.Equal(5, told.Length);
        Assert.Contains("There are two terms for everything; only the first is ever used.", told);
        Assert.Contains("No product is in the collection hats yet.", told);
        Assert.Contains("A click counts for one day only: most buyers come back later than that.", told);
        Assert.Contains(told, w => w.StartsWith("The hold of 0 days is shorter than the longest return period, 14 days", StringComparison.Ordinal));
        Assert.Contains("60 % is more than half of the base.", told);
    }

    [Fact]
    public void A_sound_version_is_left_in_peace() =>
        Assert.Empty(TermReview.Unusual(Version("0.1") with { HoldDays = 14, WindowDays = 30 }, Basis.Referral, Eur, [Guide], Plain));

    private static string[] Review(Term term) => [.. TermReview.Unusual(Version("0.1") with { HoldDays = 14, Terms = [term] }, Basis.Referral, Eur, [Guide], Plain)];

    private static TermCase From(long value, string percent) => new(new CaseConditions { OrderValueAtLeast = value }, Percent(percent));

    private static TermCase Always(string percent) => new(CaseConditions.None, Percent(percent));

    private static ShareRate Percent(string percent) => new(Rate.Parse(percent));
}
