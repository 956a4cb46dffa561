using System.Globalization;

namespace EvenSplit.Core;

/// <summary>A whole number of minor units of one currency (contract, section 1). Never a binary float.</summary>
/// <param name="Minor">Minor units: cents for EUR, yen for JPY.</param>
public readonly record struct Money(long Minor, Currency Currency)
{
    /// <summary>The largest amount any fact may carry: every whole number up to it is exact in JSON too.</summary>
    public const long MaxMinor = 9_007_199_254_740_991;

    public static Money Zero(Currency currency) => new(0, currency);

    /// <exception cref="InvalidOperationException">The currencies differ: convert first.</exception>
    public static Money operator +(Money a, Money b) => new(checked(a.Minor + b.SameCurrencyAs(a).Minor), a.Currency);

    /// <exception cref="InvalidOperationException">The currencies differ: convert first.</exception>
    public static Money operator -(Money a, Money b) => new(checked(a.Minor - b.SameCurrencyAs(a).Minor), a.Currency);

    public static Money operator -(Money a) => new(checked(-a.Minor), a.Currency);

    /// <summary>The amount in major units, exactly: 1250 EUR minor units are 12.50.</summary>
    public decimal Major => new decimal(Minor) / PowerOfTen(Currency.Exponent);

    /// <summary>
    /// Reads a decimal amount in major units with a point, such as <c>12.50</c>. Nothing is ever rounded.
    /// </summary>
    /// <returns>False with the reason, as a phrase that can follow "expected", where the text is no exact amount.</returns>
    public static bool TryParseMajor(ReadOnlySpan<char> text, Currency currency, out Money money, out string? expected)
    {
        money = default;
        expected = null;
        const NumberStyles style = NumberStyles.AllowDecimalPoint | NumberStyles.AllowLeadingSign;
        if (!decimal.TryParse(text, style, CultureInfo.InvariantCulture, out var major))
        {
            expected = "an amount with a decimal point, such as 12.50";
            return false;
        }
        var point = text.IndexOf('.');
        var places = point < 0 ? 0 : text.Length - point - 1;
        if (places > currency.Exponent)
        {
            expected = currency.Exponent == 0
                ? $"a whole amount: {currency.Code} has no decimals"
                : $"at most {currency.Exponent} decimals in {currency.Code}";
            return false;
        }
        if (Math.Abs(major) > MaxMinor / PowerOfTen(currency.Exponent))
        {
            expected = "a smaller amount";
            return false;
        }
        money = new Money((long)(major * PowerOfTen(currency.Exponent)), currency);
        return true;
    }

    /// <summary>Plain, for files: <c>12.50</c>, with a point, no grouping, no currency.</summary>
    public string ToMajorText() => Major.ToString("F" + Currency.Exponent.ToString(CultureInfo.InvariantCulture), CultureInfo.InvariantCulture);

    public override string ToString() => $"{ToMajorText()} {Currency.Code}";

    internal static long PowerOfTen(int exponent)
    {
        var power = 1L;
        for (var i = 0; i < exponent; i++) power *= 10;
        return power;
    }

    private Money SameCurrencyAs(Money other) => Currency == other.Currency
        ? this
        : throw new InvalidOperationException($"{other} and {this} are in different currencies: convert one of them first.");
}
