using System.Globalization;
using System.Numerics;

namespace EvenSplit.Core;

/// <summary>
/// An exact number between two rounding points (contract, section 1). Not reduced: the chains are short. Held in 64 bits
/// while it fits, which money of any ordinary size does, and in as many as it takes where it does not.
/// </summary>
public readonly struct Fraction : IComparable<Fraction>
{
    private readonly long _numerator;
    // Kept less one so that default(Fraction) is 0/1, a number.
    private readonly long _denominatorLessOne;
    private readonly Wide? _wide;

    private sealed record Wide(BigInteger Numerator, BigInteger Denominator);

    /// <exception cref="ArgumentOutOfRangeException">The denominator is not positive.</exception>
    public Fraction(long numerator, long denominator)
    {
        ArgumentOutOfRangeException.ThrowIfNegativeOrZero(denominator);
        (_numerator, _denominatorLessOne) = (numerator, denominator - 1);
    }

    private Fraction(BigInteger numerator, BigInteger denominator) => _wide = new Wide(numerator, denominator);

    private BigInteger WideNumerator => _wide?.Numerator ?? _numerator;

    private BigInteger WideDenominator => _wide?.Denominator ?? (BigInteger)_denominatorLessOne + 1;

    private long Denominator => _denominatorLessOne + 1;

    public static Fraction Zero => default;

    public int Sign => _wide?.Numerator.Sign ?? Math.Sign(_numerator);

    public static implicit operator Fraction(long whole) => new(whole, 1);

    public static Fraction operator +(Fraction a, Fraction b)
    {
        if (a._wide is null && b._wide is null)
        {
            if (a._denominatorLessOne == b._denominatorLessOne)
            {
                if (Sum(a._numerator, b._numerator, out var sum)) return new Fraction(sum, a.Denominator);
            }
            else if (Product(a._numerator, b.Denominator, out var left) && Product(b._numerator, a.Denominator, out var right)
                && Sum(left, right, out var sum) && Product(a.Denominator, b.Denominator, out var denominator))
            {
                return new Fraction(sum, denominator);
            }
        }
        return new Fraction(a.WideNumerator * b.WideDenominator + b.WideNumerator * a.WideDenominator, a.WideDenominator * b.WideDenominator);
    }

    public static Fraction operator -(Fraction a) => a._wide is null && a._numerator != long.MinValue
        ? new Fraction(-a._numerator, a.Denominator)
        : new Fraction(-a.WideNumerator, a.WideDenominator);

    public static Fraction operator -(Fraction a, Fraction b) => a + -b;

    public static Fraction operator *(Fraction a, Fraction b) =>
        a._wide is null && b._wide is null && Product(a._numerator, b._numerator, out var numerator) && Product(a.Denominator, b.Denominator, out var denominator)
            ? new Fraction(numerator, denominator)
            : new Fraction(a.WideNumerator * b.WideNumerator, a.WideDenominator * b.WideDenominator);

    public static Fraction operator *(Fraction a, Rate rate) => a * new Fraction(rate.Millionths, Rate.One);

    /// <exception cref="ArgumentOutOfRangeException"><paramref name="b"/> is not above 0.</exception>
    public static Fraction operator /(Fraction a, Fraction b)
    {
        if (b.Sign <= 0) throw new ArgumentOutOfRangeException(nameof(b));
        return a._wide is null && b._wide is null && Product(a._numerator, b.Denominator, out var numerator) && Product(a.Denominator, b._numerator, out var denominator)
            ? new Fraction(numerator, denominator)
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
        var (whole, rest) = Math.DivRem(_numerator, Denominator);
        return rest < 0 ? whole - 1 : whole;
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
        var (whole, rest) = Math.DivRem(_numerator, Denominator);
        // Not doubled: twice the rest could be beyond 64 bits.
        if (rest >= 0) return rest >= Denominator - rest ? checked(whole + 1) : whole;
        return -rest >= Denominator + rest ? checked(whole - 1) : whole;
    }

    public int CompareTo(Fraction other)
    {
        if (_wide is null && other._wide is null)
        {
            if (_denominatorLessOne == other._denominatorLessOne) return _numerator.CompareTo(other._numerator);
            if (Product(_numerator, other.Denominator, out var mine) && Product(other._numerator, Denominator, out var theirs)) return mine.CompareTo(theirs);
        }
        return (WideNumerator * other.WideDenominator).CompareTo(other.WideNumerator * WideDenominator);
    }

    /// <summary>The same number with the smallest numerator and denominator.</summary>
    public Fraction InLowestTerms()
    {
        var divisor = BigInteger.GreatestCommonDivisor(WideNumerator, WideDenominator);
        var (numerator, denominator) = (WideNumerator / divisor, WideDenominator / divisor);
        return BigInteger.Abs(numerator) <= long.MaxValue && denominator <= long.MaxValue
            ? new Fraction((long)numerator, (long)denominator)
            : new Fraction(numerator, denominator);
    }

    /// <summary>Exactly, in lowest terms: <c>25/2</c>, or <c>12</c> where it is whole.</summary>
    public string ToExactText()
    {
        var reduced = InLowestTerms();
        return reduced.WideDenominator.IsOne
            ? reduced.WideNumerator.ToString(CultureInfo.InvariantCulture)
            : string.Create(CultureInfo.InvariantCulture, $"{reduced.WideNumerator}/{reduced.WideDenominator}");
    }

    /// <summary>Reads what <see cref="ToExactText"/> wrote.</summary>
    /// <exception cref="FormatException">No such text.</exception>
    public static Fraction ParseExact(string text)
    {
        var parts = text.Split('/');
        var numerator = BigInteger.Parse(parts[0], NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture);
        return new Fraction(numerator, parts.Length == 1 ? BigInteger.One : BigInteger.Parse(parts[1], NumberStyles.None, CultureInfo.InvariantCulture)).InLowestTerms();
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

    /// <summary>False where the sum does not fit in 64 bits.</summary>
    private static bool Sum(long a, long b, out long sum)
    {
        sum = unchecked(a + b);
        return ((a ^ sum) & (b ^ sum)) >= 0;
    }

    /// <summary>False where the product does not fit in 64 bits.</summary>
    private static bool Product(long a, long b, out long product)
    {
        var high = Math.BigMul(a, b, out product);
        return high == product >> 63;
    }
}
