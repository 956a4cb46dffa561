using System.Diagnostics.CodeAnalysis;
using System.Globalization;

namespace EvenSplit.Core;

/// <summary>
/// A decimal fraction with at most six places (contract, section 1): 0.125 is 12.5 %. Also holds exchange rates,
/// which may be above 1.
/// </summary>
/// <param name="Millionths">The fraction in millionths: 125 000 for 12.5 %.</param>
public readonly record struct Rate(long Millionths) : IComparable<Rate>
{
    public const long One = 1_000_000;

    public static Rate Zero => default;

    /// <summary>Reads "0.125"; no sign, no exponent, at most six places.</summary>
    public static bool TryParse([NotNullWhen(true)] string? text, out Rate rate)
    {
        rate = default;
        if (string.IsNullOrEmpty(text)
            || !decimal.TryParse(text, NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out var value)
            || value > long.MaxValue / One)
        {
            return false;
        }
        var scaled = value * One;
        if (scaled != decimal.Truncate(scaled)) return false;
        rate = new Rate((long)scaled);
        return true;
    }

    /// <exception cref="FormatException">Not a decimal fraction with at most six places.</exception>
    public static Rate Parse(string text) =>
        TryParse(text, out var rate) ? rate : throw new FormatException($"'{text}' is not a decimal fraction with at most six places.");

    public decimal Value => new decimal(Millionths) / One;

    /// <summary>As a percentage without needless zeros: <c>12.5 %</c>.</summary>
    public string ToPercentText() => (Value * 100m).ToString("0.####", CultureInfo.InvariantCulture) + " %";

    public int CompareTo(Rate other) => Millionths.CompareTo(other.Millionths);

    public override string ToString() => Value.ToString("0.######", CultureInfo.InvariantCulture);
}
