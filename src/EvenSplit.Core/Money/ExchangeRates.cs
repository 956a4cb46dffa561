using System.Collections.Concurrent;

namespace EvenSplit.Core;

/// <summary>One published rate: units of <paramref name="To"/> for 1 unit of <paramref name="From"/>, major units.</summary>
public sealed record ExchangeRate(DateOnly Date, Currency From, Currency To, Rate Rate);

/// <summary>Conversion between currencies as the contract's section 9 says: nothing is guessed, and a conversion is rounded once.</summary>
public sealed class ExchangeRates
{
    private const int MaxAgeDays = 7;

    private readonly Currency _book;
    private readonly Dictionary<(Currency From, Currency To), ExchangeRate[]> _byPair;
    // An order asks for the same few over and over, and orders of one day for the same.
    private readonly ConcurrentDictionary<long, Fraction?> _minorFactors = [];

    [ThreadStatic]
    private static (ExchangeRates? Asked, long Key, Fraction? Factor) t_last;

    public ExchangeRates(Currency book, IEnumerable<ExchangeRate> rates)
    {
        _book = book;
        _byPair = rates.GroupBy(r => (r.From, r.To)).ToDictionary(g => g.Key, g => g.OrderBy(r => r.Date).ToArray());
    }

    /// <summary>The first day on which a rate published on a day is too old; null where that lies beyond all days.</summary>
    public static DateOnly? FirstDayNotServed(DateOnly published) =>
        published.DayNumber >= DateOnly.MaxValue.DayNumber - MaxAgeDays ? null : published.AddDays(MaxAgeDays + 1);

    /// <summary>Every rate published, pair by pair.</summary>
    public IReadOnlyCollection<ExchangeRate> All => [.. _byPair.Values.SelectMany(r => r)];

    /// <summary>Converts minor units; null where there is no rate. An amount of 0 needs none.</summary>
    /// <param name="date">In the book's time zone.</param>
    public long? Convert(long minor, Currency from, Currency to, DateOnly date)
    {
        if (minor == 0) return 0;
        if (from == to) return minor;
        return MinorFactor(from, to, date) is { } factor ? (factor * minor).Round() : null;
    }

    /// <summary>Which published rates <see cref="Convert"/> goes by, in words; null where there is none.</summary>
    public string? Source(Currency from, Currency to, DateOnly date)
    {
        if (from == to) return "";
        if (LegInWords(from, to, date) is { } direct) return direct;
        if (from == _book || to == _book) return null;
        return LegInWords(from, _book, date) is { } first && LegInWords(_book, to, date) is { } second ? $"{first}; {second}" : null;
    }

    private string? LegInWords(Currency from, Currency to, DateOnly date) =>
        Latest(from, to, date) is { } rate ? $"1 {from} = {rate.Rate} {to}, {rate.Date.InWords()}"
        : Latest(to, from, date) is { } inverse ? $"1 {to} = {inverse.Rate} {from}, {inverse.Date.InWords()}"
        : null;

    /// <summary>Minor units of <paramref name="to"/> for one of <paramref name="from"/>, exactly; rates are for major units. Null where there is no rate.</summary>
    public Fraction? MinorFactor(Currency from, Currency to, DateOnly date)
    {
        // A day's number has less than 24 bits, a currency's less than 16.
        var key = (long)from.Number << 40 | (long)to.Number << 24 | (uint)date.DayNumber;
        ref var last = ref t_last;
        if (last.Key == key && ReferenceEquals(last.Asked, this)) return last.Factor;
        if (!_minorFactors.TryGetValue(key, out var factor))
        {
            factor = Factor(from, to, date) is { } major ? (major * Fraction.PowerOfTen(to.Exponent - from.Exponent)).InLowestTerms() : null;
            _minorFactors[key] = factor;
        }
        last = (this, key, factor);
        return factor;
    }

    private Fraction? Factor(Currency from, Currency to, DateOnly date)
    {
        if (Leg(from, to, date) is { } direct) return direct;
        if (from == _book || to == _book) return null;
        return Leg(from, _book, date) is { } first && Leg(_book, to, date) is { } second ? first * second : null;
    }

    private Fraction? Leg(Currency from, Currency to, DateOnly date)
    {
        if (Latest(from, to, date) is { } rate) return new Fraction(rate.Rate.Millionths, Rate.One);
        if (Latest(to, from, date) is { } inverse) return new Fraction(Rate.One, inverse.Rate.Millionths);
        return null;
    }

    private ExchangeRate? Latest(Currency from, Currency to, DateOnly date)
    {
        if (!_byPair.TryGetValue((from, to), out var rates)) return null;
        var (low, high) = (0, rates.Length - 1);
        ExchangeRate? latest = null;
        while (low <= high)
        {
            var middle = (low + high) / 2;
            if (rates[middle].Date <= date) (latest, low) = (rates[middle], middle + 1);
            else high = middle - 1;
        }
        return latest is not null && date.DayNumber - latest.Date.DayNumber <= MaxAgeDays ? latest : null;
    }
}
