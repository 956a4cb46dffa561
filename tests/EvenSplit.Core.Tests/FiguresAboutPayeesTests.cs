namespace EvenSplit.Core.Tests;

/// <summary>Figures beside the calculation, each with a worked example: windows of targets, rewards between customers, refund rates, ages of what is owed.</summary>
public sealed class FiguresAboutPayeesTests
{
    private static readonly Currency Euro = Currency.Of("EUR"), Dollar = Currency.Of("USD");

    private static readonly ExchangeRates Rates = new(Euro, [new ExchangeRate(new DateOnly(2026, 10, 1), Euro, Dollar, Rate.Parse("1.1"))]);

    private static readonly DateOnly PaidOn = new(2026, 10, 2);

    [Theory]
    [InlineData(ProgressWindow.Month, "2026-01-01", null, "2026-10-15", "2026-10-01..2026-10-15", "2026-09-01..2026-09-30")]
    [InlineData(ProgressWindow.Quarter, "2026-01-01", null, "2026-10-15", "2026-10-01..2026-10-15", "2026-07-01..2026-09-30")]
    [InlineData(ProgressWindow.Year, "2026-03-01", null, "2026-10-15", "2026-01-01..2026-10-15")]
    [InlineData(ProgressWindow.Lifetime, "2026-03-01", null, "2026-10-15", "2026-03-01..2026-10-15")]
    // Nothing before it began, and nothing after it ended.
    [InlineData(ProgressWindow.Month, "2026-10-05", null, "2026-10-15", "2026-10-01..2026-10-15")]
    [InlineData(ProgressWindow.Month, "2026-01-01", "2026-10-01", "2026-12-15", "2026-09-01..2026-09-30", "2026-08-01..2026-08-31")]
    [InlineData(ProgressWindow.Month, "2026-11-01", null, "2026-10-15")]
    public void A_target_is_looked_at_in_this_window_and_the_one_before(ProgressWindow window, string from, string? to, string today, params string[] windows) =>
        Assert.Equal(windows, TargetWindows.ToLookAt(window, DateOnly.Parse(from), to is null ? null : DateOnly.Parse(to), DateOnly.Parse(today)).Select(w => $"{w.Start:yyyy-MM-dd}..{w.Last:yyyy-MM-dd}"));

    [Fact]
    public void A_friend_gets_what_the_first_collection_of_the_product_gives_else_what_all_else_does()
    {
        FriendDiscount[] discounts = [new("prints", Rate.Zero, 300), new("books", Rate.Parse("0.1"), 0), new("", Rate.Parse("0.05"), 0)];
        // A tenth of €24.99 × 2 is €5.00 (€4.998 rounded).
        Assert.Equal(500, Due("books"));
        // By name books come before prints.
        Assert.Equal(500, Due("prints", "books"));
        // Half of that for whatever is in no such collection.
        Assert.Equal(250, Due("pins"));
        // €3.00 a unit, in dollars: 2 × €3.00 × 1.1.
        Assert.Equal(660, CustomerReward.DiscountDue(discounts, Of("prints"), 2, 2499, Dollar, Rates, Euro, PaidOn));
        // Never more than the price, and nothing where there is no rate.
        Assert.Equal(200, CustomerReward.DiscountDue(discounts, Of("prints"), 2, 100, Euro, Rates, Euro, PaidOn));
        Assert.Equal(0, CustomerReward.DiscountDue(discounts, Of("prints"), 2, 100, Currency.Of("JPY"), Rates, Euro, PaidOn));
        Assert.Equal(0, CustomerReward.DiscountDue([], Of("prints"), 2, 100, Euro, Rates, Euro, PaidOn));

        long Due(params string[] collections) => CustomerReward.DiscountDue(discounts, Of(collections), 2, 2499, Euro, Rates, Euro, PaidOn);

        static Product Of(params string[] collections) => new() { Id = new ProductId("g"), CostCurrency = Euro, Collections = [.. collections.Select(c => new CollectionId(c))] };
    }

    [Fact]
    public void A_referrer_gets_a_part_of_what_is_left_and_an_amount()
    {
        var credit = new ReferrerCredit(Rate.Parse("0.1"), 200);
        Assert.Equal(1000 + 200, CustomerReward.CreditDue(credit, 10_000, Euro, Rates, Euro, PaidOn));
        // A tenth of $110.00 is $11.00, which is €10.00.
        Assert.Equal(1000 + 200, CustomerReward.CreditDue(credit, 11_000, Dollar, Rates, Euro, PaidOn));
        Assert.Equal(0, CustomerReward.CreditDue(credit, 0, Euro, Rates, Euro, PaidOn));
        Assert.Null(CustomerReward.CreditDue(credit, 10_000, Currency.Of("JPY"), Rates, Euro, PaidOn));
    }

    [Theory]
    [InlineData(25, 1000, "2.5 %")]
    [InlineData(1, 3, "33.3333 %")]
    [InlineData(0, 1000, "0 %")]
    [InlineData(5, 0, "0 %")]
    [InlineData(long.MaxValue, long.MaxValue, "100 %")]
    public void A_refund_rate_is_the_part_that_went_back(long back, long of, string shown) => Assert.Equal(shown, RefundShare.Of(back, of).ToPercentText());

    [Theory]
    [InlineData("2026-10-31", 0)]
    [InlineData("2026-10-01", 0)]
    [InlineData("2026-09-30", 1)]
    [InlineData("2026-09-01", 1)]
    [InlineData("2026-08-31", 2)]
    [InlineData("2026-08-02", 2)]
    [InlineData("2026-08-01", 3)]
    [InlineData("2026-12-01", 0)]
    public void What_is_owed_is_as_old_as_the_days_since(string since, int age) => Assert.Equal(age, Ageing.Of(DateOnly.Parse(since), new DateOnly(2026, 10, 31)));

    [Fact]
    public void The_first_day_of_an_age_is_the_last_that_has_it()
    {
        var today = new DateOnly(2026, 10, 31);
        for (var age = 0; age < Ageing.Bounds.Count; age++)
        {
            Assert.Equal(age, Ageing.Of(Ageing.FirstDay(age, today), today));
            Assert.Equal(age + 1, Ageing.Of(Ageing.FirstDay(age, today).AddDays(-1), today));
        }
    }
}
