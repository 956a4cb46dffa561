using static EvenSplit.Core.Tests.SmallBook;

namespace EvenSplit.Core.Tests;

/// <summary>Money, dates, terms and months as a person reads them.</summary>
public sealed class WordsTests
{
    private static readonly Naming Plain = new(p => p.Value, a => a.Value, p => p.Value);

    [Theory]
    [InlineData(123456, "EUR", "€1,234.56")]
    [InlineData(-5, "GBP", "−£0.05")]
    [InlineData(1500, "JPY", "¥1,500")]
    [InlineData(1234, "KWD", "KWD 1.234")]
    public void Money_has_its_sign_its_groups_and_a_true_minus(long minor, string currency, string words) =>
        Assert.Equal(words, new Money(minor, Currency.Of(currency)).InWords());

    [Theory]
    [InlineData(5688, 100, "€0.5688")]
    [InlineData(1, 3, "€0.003333…")]
    [InlineData(-250, 1, "−€2.50")]
    [InlineData(200, 1, "€2.00")]
    public void Exact_amounts_say_where_more_digits_follow(int numerator, int denominator, string words) =>
        Assert.Equal(words, MoneyWords.InWords(new Fraction(numerator, denominator), Eur));

    [Theory]
    [InlineData(1, "1 order")]
    [InlineData(2048, "2,048 orders")]
    [InlineData(0, "0 orders")]
    public void Counts_agree_with_their_noun(long number, string words) => Assert.Equal(words, MoneyWords.Count(number, "order"));

    [Fact]
    public void A_month_knows_its_days_its_name_and_its_neighbours()
    {
        Assert.True(Period.TryParse("2024-02", out var period));
        Assert.Equal((new DateOnly(2024, 2, 1), new DateOnly(2024, 2, 29), "February 2024"), (period.FirstDay, period.LastDay, period.Name));
        Assert.Equal(("2024-01", "2024-03"), (period.Previous.ToString(), period.Next.ToString()));
        Assert.Equal(new Period(202512), new Period(202601).Previous);
    }

    [Theory]
    [InlineData("2024-13")]
    [InlineData("2024-2")]
    [InlineData("today")]
    [InlineData(null)]
    public void What_is_no_month_is_none(string? text) => Assert.False(Period.TryParse(text, out _));

    [Fact]
    public void A_date_is_taken_where_the_book_is()
    {
        var instant = new DateTimeOffset(2026, 6, 30, 23, 30, 0, TimeSpan.Zero);
        Assert.Equal(new DateOnly(2026, 7, 1), BookTime.Of("Europe/Dublin").DateOf(instant));
        Assert.Equal(new DateOnly(2026, 6, 30), BookTime.Of("America/New_York").DateOf(instant));
    }

    [Fact]
    public void Terms_read_as_sentences()
    {
        var term = new Term(Scope.Of(new CollectionId("seed")),
        [
            new TermCase(new CaseConditions { OrderValueAtLeast = 8000, Customer = CustomerKind.New }, new ShareRate(Rate.Parse("0.125"), 50)),
            new TermCase(new CaseConditions { SalesAtLeast = 100_000, Window = ProgressWindow.Month }, new ShareRate(Rate.Parse("0.3"), Of: RateOf.House)),
            new TermCase(CaseConditions.None, new ShareRate(null)),
        ]);
        Assert.Equal(
            "Of the collection seed: orders from €80, new customers, 12.5 % of the share base and €0.50 a unit; "
            + "after sales of €1,000 this month, what is left after the house keeps 30 %; otherwise nothing.",
            TermWords.Term(term, Eur, Plain));
    }

    [Theory]
    [InlineData(null, 1, "up to payment 1")]
    [InlineData(2, null, "payment 2 and later")]
    [InlineData(3, 3, "payment 3")]
    [InlineData(2, 12, "payments 2 to 12")]
    [InlineData(0, 0, "trials")]
    public void Payments_read_as_one_says_them(int? from, int? to, string words) =>
        Assert.Equal(words, TermWords.Conditions(new CaseConditions { PaymentFrom = from, PaymentTo = to }, Eur));

    [Fact]
    public void What_no_case_covers_is_told_as_nothing() => Assert.Equal(
        "Of everything: orders from €80.50, 9 % of the share base; otherwise nothing.",
        TermWords.Term(new Term(Scope.All, [new TermCase(new CaseConditions { OrderValueAtLeast = 8050 }, new ShareRate(Rate.Parse("0.09")))]), Eur, Plain));

    [Fact]
    public void Switches_are_told_the_silent_ones_too()
    {
        var sentences = TermWords.Switches(
            Version("0.1") with { Tax = Treatment.Count, DeductCost = true, DeductProcessingFee = true, LostFees = LostFeeBearer.Shared, HoldDays = 30, RecruiterPercent = Rate.Parse("0.02") },
            Basis.Contribution).ToArray();
        Assert.Equal(
            [
                "Discounts are shared: the base is what the goods really brought.",
                "Tax counts in the base.",
                "Shipping stays with the house.",
                "Deducted from the base: the processing fee, the cost of the goods.",
                "Fees lost on a refund are shared: a reversal can be more than was earned.",
                "Whoever recruited the payee earns 2 % of the same base.",
                "Earnings are held for 30 days.",
            ],
            sentences);
    }
}
