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

    /// <summary>The most places behind the point, zeros at the end included.</summary>
    public const int MostPlaces = 6;

    /// <summary>Reads "0.125": digits, then at most a point and one to six digits; no sign, no exponent, nothing around it.</summary>
    public static bool TryParse([NotNullWhen(true)] string? text, out Rate rate)
    {
        rate = default;
        if (text is null || !IsDecimal(text, out var places) || places > MostPlaces
            || !decimal.TryParse(text, NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out var value)
            || value > long.MaxValue / One)
        {
            return false;
        }
        rate = new Rate((long)(value * One));
        return true;
    }

    /// <summary>Whether a text is written as a decimal fraction is, however many places it has.</summary>
    /// <param name="places">How many digits stand behind the point.</param>
    public static bool IsDecimal(ReadOnlySpan<char> text, out int places)
    {
        var point = text.IndexOf('.');
        var whole = point < 0 ? text : text[..point];
        var fraction = point < 0 ? default : text[(point + 1)..];
        places = fraction.Length;
        return whole.Length > 0 && (point < 0 || fraction.Length > 0)
            && !whole.ContainsAnyExceptInRange('0', '9') && !fraction.ContainsAnyExceptInRange('0', '9');
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
