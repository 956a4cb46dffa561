using System.Numerics;
using CsCheck;

namespace EvenSplit.Core.Tests;

public sealed class MoneyTests
{
    [Theory]
    [InlineData("12.50", "EUR", 1250)]
    [InlineData("12", "EUR", 1200)]
    [InlineData("-0.05", "EUR", -5)]
    [InlineData("1500", "JPY", 1500)]
    [InlineData("1.234", "KWD", 1234)]
    public void Reads_major_units_exactly(string text, string currency, long minor)
    {
        Assert.True(Money.TryParseMajor(text, Currency.Of(currency), out var money, out _));
        Assert.Equal(minor, money.Minor);
    }

    [Theory]
    [InlineData("12.345", "EUR", "at most 2 decimals in EUR")]
    [InlineData("1.5", "JPY", "a whole amount: JPY has no decimals")]
    [InlineData("12,50", "EUR", "an amount with a decimal point, such as 12.50")]
    [InlineData("1e3", "EUR", "an amount with a decimal point, such as 12.50")]
    [InlineData("99999999999999999", "EUR", "a smaller amount")]
    public void Never_rounds_what_it_reads(string text, string currency, string expected)
    {
        Assert.False(Money.TryParseMajor(text, Currency.Of(currency), out _, out var reason));
        Assert.Equal(expected, reason);
    }

    [Fact]
    public void Different_currencies_do_not_add_up() =>
        Assert.Throws<InvalidOperationException>(() => new Money(1, Currency.Of("EUR")) + new Money(1, Currency.Of("USD")));

    [Theory]
    [InlineData("0.125", 125_000)]
    [InlineData("1", 1_000_000)]
    [InlineData("0.000001", 1)]
    public void Rates_have_six_places(string text, long millionths) => Assert.Equal(millionths, Rate.Parse(text).Millionths);

    [Theory]
    [InlineData("0.0000001")]
    [InlineData("-0.1")]
    [InlineData("1e-2")]
    [InlineData("")]
    public void Other_rates_are_refused(string text) => Assert.False(Rate.TryParse(text, out _));

    [Theory]
    [InlineData(5, 2, 3)]
    [InlineData(-5, 2, -3)]
    [InlineData(7, 3, 2)]
    [InlineData(-7, 3, -2)]
    public void Halves_round_away_from_zero(int numerator, int denominator, long rounded) =>
        Assert.Equal(rounded, new Fraction(numerator, denominator).Round());

    [Fact]
    public void Fractions_are_exact_at_any_size() => Gen.Select(Gen.Long, Gen.Long[1, long.MaxValue], Gen.Long, Gen.Long[1, long.MaxValue]).Sample((a, b, c, d) =>
    {
        var (x, y) = (new Fraction(a, b), new Fraction(c, d));
        Assert.Equal(0, (x + y - y).CompareTo(x));
        Assert.Equal(0, (x * y).CompareTo(y * x));
        Assert.Equal(((BigInteger)a * d).CompareTo((BigInteger)c * b), x.CompareTo(y));
        Assert.Equal((long)((a - (((BigInteger)a % b) + b) % b) / b), x.Floor());
        Assert.Equal(x.Round(), (x * y + x - x * y).Round());
    });

    [Fact]
    public void Leftover_units_go_to_the_largest_fractions_then_the_earlier() =>
        Assert.Equal([34, 33, 33], Allocation.Allocate(100, [1, 1, 1]));

    [Fact]
    public void Negative_totals_are_allocated_as_positive_and_negated() =>
        Assert.Equal([-34, -33, -33], Allocation.Allocate(-100, [1, 1, 1]));

    [Fact]
    public void Weights_of_nothing_count_as_equal() => Assert.Equal([5, 5], Allocation.Allocate(10, [0, 0]));

    [Fact]
    public void Ids_are_ordered_by_their_utf8_bytes()
    {
        // U+FFFD comes before U+1F989 in UTF-8, after its surrogates in UTF-16.
        Assert.True(IdOrder.Compare("\uFFFD", "\U0001F989") < 0);
        Assert.True(IdOrder.Compare("a", "ab") < 0);
    }
}
