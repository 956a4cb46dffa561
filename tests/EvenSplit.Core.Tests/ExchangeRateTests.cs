namespace EvenSplit.Core.Tests;

public sealed class ExchangeRateTests
{
    private static readonly Currency Eur = Currency.Of("EUR"), Usd = Currency.Of("USD"), Jpy = Currency.Of("JPY");
    private static readonly DateOnly Day = new(2026, 10, 5);

    private static ExchangeRates Rates(params (int DaysBefore, Currency From, Currency To, string Rate)[] rates) =>
        new(Eur, rates.Select(r => new ExchangeRate(Day.AddDays(-r.DaysBefore), r.From, r.To, Rate.Parse(r.Rate))));

    [Fact]
    public void Takes_the_latest_on_or_before() => Assert.Equal(11000, Rates((3, Eur, Usd, "1.2"), (1, Eur, Usd, "1.1"), (-1, Eur, Usd, "9")).Convert(10000, Eur, Usd, Day));

    [Fact]
    public void Nothing_older_than_seven_days()
    {
        Assert.Equal(11000, Rates((7, Eur, Usd, "1.1")).Convert(10000, Eur, Usd, Day));
        Assert.Null(Rates((8, Eur, Usd, "1.1")).Convert(10000, Eur, Usd, Day));
    }

    [Fact]
    public void Else_the_inverse() => Assert.Equal(9091, Rates((0, Eur, Usd, "1.1")).Convert(10000, Usd, Eur, Day));

    [Fact]
    public void Else_through_the_book_currency_rounded_once() =>
        Assert.Equal(14764, Rates((0, Eur, Usd, "1.1"), (0, Eur, Jpy, "162.4")).Convert(10000, Usd, Jpy, Day));

    [Fact]
    public void Nothing_needs_no_rate() => Assert.Equal(0, Rates().Convert(0, Usd, Jpy, Day));
}
