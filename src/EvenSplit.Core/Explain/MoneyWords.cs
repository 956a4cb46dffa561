using System.Globalization;

namespace EvenSplit.Core;

/// <summary>Money, dates and numbers as a person reads them.</summary>
public static class MoneyWords
{
    /// <summary>Grouped, with a true minus, without currency: <c>−1,204.50</c>. For columns.</summary>
    public static string Figure(long minor, Currency currency)
    {
        var text = (Math.Abs(new Money(minor, currency).Major)).ToString("N" + currency.Exponent.ToString(CultureInfo.InvariantCulture), CultureInfo.InvariantCulture);
        return minor < 0 ? "−" + text : text;
    }

    /// <summary>With its sign: <c>−€1,204.50</c>. For sentences.</summary>
    public static string InWords(this Money money)
    {
        var figure = Figure(Math.Abs(money.Minor), money.Currency);
        return (money.Minor < 0 ? "−" : "") + Sign(money.Currency) + figure;
    }

    /// <summary>An exact amount in minor units, shown in major units: <c>€32.788</c>.</summary>
    public static string InWords(Fraction minor, Currency currency)
    {
        var text = minor.ToDecimalText(currency.Exponent);
        return text.StartsWith('−') ? "−" + Sign(currency) + text[1..] : Sign(currency) + text;
    }

    /// <summary>Where the year is plain: "3 Nov".</summary>
    public static string InShort(this DateOnly date) => date.ToString("d MMM", CultureInfo.InvariantCulture);

    public static string InWords(this DateOnly date) => date.ToString("d MMM yyyy", CultureInfo.InvariantCulture);

    public static string Count(long number) => number.ToString("N0", CultureInfo.InvariantCulture);

    /// <summary>"1 order", "2,048 orders".</summary>
    public static string Count(long number, string one, string? many = null) => $"{Count(number)} {(number == 1 ? one : many ?? one + "s")}";

    private static string Sign(Currency currency) => currency.Code switch
    {
        "EUR" => "€",
        "GBP" => "£",
        "USD" => "$",
        "JPY" => "¥",
        _ => currency.Code + " ",
    };
}
