using System.Globalization;
using System.Numerics;

namespace EvenSplit.Core;

/// <summary>
/// An exact number between two rounding points (contract, section 1). Not reduced: the chains are short. Held in 128 bits
/// while it fits, which money of any ordinary size does, and in as many as it takes where it does not.
/// </summary>
public readonly struct Fraction : IComparable<Fraction>
{
    private readonly Int128 _numerator;
    // Kept less one so that default(Fraction) is 0/1, a number.
    private readonly Int128 _denominatorLessOne;
    private readonly Wide? _wide;

    private sealed record Wide(BigInteger Numerator, BigInteger Denominator);

    /// <exception cref="ArgumentOutOfRangeException">The denominator is not positive.</exception>
    public Fraction(Int128 numerator, Int128 denominator)
    {
        ArgumentOutOfRangeException.ThrowIfNegativeOrZero(denominator);
        (_numerator, _denominatorLessOne) = (numerator, denominator - 1);
    }

    private Fraction(BigInteger numerator, BigInteger denominator) => _wide = new Wide(numerator, denominator);

    private BigInteger WideNumerator => _wide?.Numerator ?? _numerator;

    private BigInteger WideDenominator => _wide?.Denominator ?? (BigInteger)_denominatorLessOne + 1;

    private Int128 Denominator => _denominatorLessOne + 1;

    /// <summary>Small enough that the product of two such parts, and the sum of two such products, fit in 128 bits.</summary>
    private bool IsSmall => _wide is null && IsSmallPart(_numerator) && IsSmallPart(_denominatorLessOne);

    public static Fraction Zero => default;

    public int Sign => _wide?.Numerator.Sign ?? Int128.Sign(_numerator);

    public static implicit operator Fraction(long whole) => new(whole, 1);

    public static Fraction operator +(Fraction a, Fraction b)
    {
        if (a.IsSmall && b.IsSmall)
        {
            return a._denominatorLessOne == b._denominatorLessOne
                ? new Fraction(a._numerator + b._numerator, a.Denominator)
                : new Fraction(a._numerator * b.Denominator + b._numerator * a.Denominator, a.Denominator * b.Denominator);
        }
        return new Fraction(a.WideNumerator * b.WideDenominator + b.WideNumerator * a.WideDenominator, a.WideDenominator * b.WideDenominator);
    }

    public static Fraction operator -(Fraction a) => a._wide is { } wide
        ? new Fraction(-wide.Numerator, wide.Denominator)
        : new Fraction(-a._numerator, a.Denominator);

    public static Fraction operator -(Fraction a, Fraction b) => a + -b;

    public static Fraction operator *(Fraction a, Fraction b) => a.IsSmall && b.IsSmall
        ? new Fraction(a._numerator * b._numerator, a.Denominator * b.Denominator)
        : new Fraction(a.WideNumerator * b.WideNumerator, a.WideDenominator * b.WideDenominator);

    public static Fraction operator *(Fraction a, Rate rate) => a * new Fraction(rate.Millionths, Rate.One);

    /// <exception cref="ArgumentOutOfRangeException"><paramref name="b"/> is not above 0.</exception>
    public static Fraction operator /(Fraction a, Fraction b)
    {
        if (b.Sign <= 0) throw new ArgumentOutOfRangeException(nameof(b));
        return a.IsSmall && b.IsSmall
            ? new Fraction(a._numerator * b.Denominator, a.Denominator * b._numerator)
            : new Fraction(a.WideNumerator * b.WideDenominator, a.WideDenominator * b.WideNumerator);
    }

    public static Fraction Max(Fraction a, Fraction b) => a.CompareTo(b) >= 0 ? a : b;

    /// <summary>Ten to a power, which may be below 0.</summary>
    public static Fraction PowerOfTen(int exponent) =>
        exponent >= 0 ? new Fraction(Money.PowerOfTen(exponent), 1) : new Fraction(1, Money.PowerOfTen(-exponent));

    /// <summary>The whole number at or below.</summary>
    /// <exception cref="OverflowException">Beyond what an amount can be.</exception>
    public long Floor()
    {
        if (_wide is { } wide)
        {
            var quotient = BigInteger.DivRem(wide.Numerator, wide.Denominator, out var remainder);
            return checked((long)(remainder.Sign < 0 ? quotient - 1 : quotient));
        }
        var (whole, rest) = Int128.DivRem(_numerator, Denominator);
        return checked((long)(Int128.IsNegative(rest) ? whole - 1 : whole));
    }

    /// <summary>To the nearest whole number, halves away from zero.</summary>
    /// <exception cref="OverflowException">Beyond what an amount can be.</exception>
    public long Round()
    {
        if (_wide is { } wide)
        {
            var magnitude = (BigInteger.Abs(wide.Numerator) * 2 + wide.Denominator) / (wide.Denominator * 2);
            return checked((long)(wide.Numerator.Sign < 0 ? -magnitude : magnitude));
        }
        var (whole, rest) = Int128.DivRem(Int128.Abs(_numerator), Denominator);
        // Not doubled: twice the rest could be beyond 128 bits.
        if (rest >= Denominator - rest) whole++;
        return checked((long)(Int128.IsNegative(_numerator) ? -whole : whole));
    }

    public int CompareTo(Fraction other)
    {
        if (!IsSmall || !other.IsSmall) return (WideNumerator * other.WideDenominator).CompareTo(other.WideNumerator * WideDenominator);
        return _denominatorLessOne == other._denominatorLessOne
            ? _numerator.CompareTo(other._numerator)
            : (_numerator * other.Denominator).CompareTo(other._numerator * Denominator);
    }

    /// <summary>Exactly, in lowest terms: <c>25/2</c>, or <c>12</c> where it is whole.</summary>
    public string ToExactText()
    {
        var divisor = BigInteger.GreatestCommonDivisor(WideNumerator, WideDenominator);
        var (numerator, denominator) = (WideNumerator / divisor, WideDenominator / divisor);
        return denominator.IsOne
            ? numerator.ToString(CultureInfo.InvariantCulture)
            : string.Create(CultureInfo.InvariantCulture, $"{numerator}/{denominator}");
    }

    /// <summary>For a reader, divided by ten to the <paramref name="exponent"/>: up to six decimals, with "…" where more follow.</summary>
    public string ToDecimalText(int exponent)
    {
        var scale = BigInteger.Pow(10, 6);
        var scaled = BigInteger.DivRem(BigInteger.Abs(WideNumerator) * scale, WideDenominator * BigInteger.Pow(10, exponent), out var rest);
        var whole = BigInteger.DivRem(scaled, scale, out var places);
        var digits = places.ToString("D6", CultureInfo.InvariantCulture).TrimEnd('0').PadRight(exponent, '0');
        return (Sign < 0 ? "−" : "") + whole.ToString(CultureInfo.InvariantCulture) + (digits.Length > 0 ? "." + digits : "") + (rest.IsZero ? "" : "…");
    }

    private static bool IsSmallPart(Int128 part) => part < long.MaxValue / 2 && part > long.MinValue / 2;
}
