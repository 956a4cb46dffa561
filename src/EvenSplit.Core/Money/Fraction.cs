using System.Numerics;

namespace EvenSplit.Core;

/// <summary>
/// An exact number between two rounding points (contract, section 1). Not reduced: the chains are short and the
/// comparison of two fractions costs less than keeping every one in lowest terms.
/// </summary>
public readonly struct Fraction : IComparable<Fraction>
{
    private readonly BigInteger _numerator;
    private readonly BigInteger _denominatorLessOne;

    /// <exception cref="ArgumentOutOfRangeException">The denominator is not positive.</exception>
    public Fraction(BigInteger numerator, BigInteger denominator)
    {
        if (denominator.Sign <= 0) throw new ArgumentOutOfRangeException(nameof(denominator));
        _numerator = numerator;
        // Kept less one so that default(Fraction) is 0/1, a number.
        _denominatorLessOne = denominator - BigInteger.One;
    }

    private BigInteger Denominator => _denominatorLessOne + BigInteger.One;

    private bool IsWhole => _denominatorLessOne.IsZero;

    public static Fraction Zero => default;

    public int Sign => _numerator.Sign;

    public static implicit operator Fraction(long whole) => new(whole, BigInteger.One);

    public static Fraction operator +(Fraction a, Fraction b) => a._denominatorLessOne == b._denominatorLessOne
        ? new Fraction(a._numerator + b._numerator, a.Denominator)
        : new Fraction(a._numerator * b.Denominator + b._numerator * a.Denominator, a.Denominator * b.Denominator);

    public static Fraction operator -(Fraction a) => new(-a._numerator, a.Denominator);

    public static Fraction operator -(Fraction a, Fraction b) => a + -b;

    public static Fraction operator *(Fraction a, Fraction b) => new(a._numerator * b._numerator, a.Denominator * b.Denominator);

    public static Fraction operator *(Fraction a, Rate rate) => new(a._numerator * rate.Millionths, a.Denominator * Rate.One);

    /// <exception cref="ArgumentOutOfRangeException"><paramref name="b"/> is not above 0.</exception>
    public static Fraction operator /(Fraction a, Fraction b) => new(a._numerator * b.Denominator, a.Denominator * b._numerator);

    public static Fraction Max(Fraction a, Fraction b) => a.CompareTo(b) >= 0 ? a : b;

    /// <summary>The whole number at or below.</summary>
    public long Floor()
    {
        if (IsWhole) return checked((long)_numerator);
        var quotient = BigInteger.DivRem(_numerator, Denominator, out var remainder);
        return checked((long)(remainder.Sign < 0 ? quotient - 1 : quotient));
    }

    /// <summary>To the nearest whole number, halves away from zero.</summary>
    public long Round()
    {
        if (IsWhole) return checked((long)_numerator);
        var doubled = BigInteger.Abs(_numerator) * 2 + Denominator;
        var magnitude = doubled / (Denominator * 2);
        return checked((long)(_numerator.Sign < 0 ? -magnitude : magnitude));
    }

    public int CompareTo(Fraction other) => _denominatorLessOne == other._denominatorLessOne
        ? _numerator.CompareTo(other._numerator)
        : (_numerator * other.Denominator).CompareTo(other._numerator * Denominator);

    /// <summary>For a reader: up to six decimals, with "…" where more follow.</summary>
    public string ToDecimalText(int exponent)
    {
        var scale = BigInteger.Pow(10, 6);
        var scaled = BigInteger.DivRem(BigInteger.Abs(_numerator) * scale, Denominator * BigInteger.Pow(10, exponent), out var rest);
        var whole = BigInteger.DivRem(scaled, scale, out var places);
        var digits = places.ToString("D6", System.Globalization.CultureInfo.InvariantCulture).TrimEnd('0');
        while (digits.Length < exponent) digits += '0';
        return (Sign < 0 ? "−" : "") + whole.ToString(System.Globalization.CultureInfo.InvariantCulture)
            + (digits.Length > 0 ? "." + digits : "") + (rest.IsZero ? "" : "…");
    }
}
