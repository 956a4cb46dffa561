using System.Diagnostics.CodeAnalysis;
using System.Runtime.CompilerServices;

namespace EvenSplit.Core;

/// <summary>An ISO 4217 currency. <see cref="Exponent"/> is the number of decimal places of its minor unit.</summary>
public readonly struct Currency : IEquatable<Currency>
{
    private const string TwoPlaces =
        "AED AFN ALL AMD ANG AOA ARS AUD AWG AZN BAM BBD BDT BGN BMD BND BOB BRL BSD BTN BWP BYN BZD CAD CDF CHF CNY COP CRC CUP CVE CZK " +
        "DKK DOP DZD EGP ERN ETB EUR FJD FKP GBP GEL GHS GIP GMD GTQ GYD HKD HNL HTG HUF IDR ILS INR IRR JMD KES KGS KHR KPW KYD KZT LAK LBP " +
        "LKR LRD LSL MAD MDL MGA MKD MMK MNT MOP MRU MUR MVR MWK MXN MYR MZN NAD NGN NIO NOK NPR NZD PAB PEN PGK PHP PKR PLN QAR RON RSD RUB " +
        "SAR SBD SCR SDG SEK SGD SHP SLE SOS SRD SSP STN SVC SYP SZL THB TJS TMT TOP TRY TTD TWD TZS UAH USD UYU UZS VED VES WST XCD YER ZAR " +
        "ZMW ZWG";
    private const string NoPlaces = "BIF CLP DJF GNF ISK JPY KMF KRW PYG RWF UGX UYI VND VUV XAF XOF XPF";
    private const string ThreePlaces = "BHD IQD JOD KWD LYD OMR TND";
    private const string FourPlaces = "CLF UYW";

    private static readonly Dictionary<string, Unit> Known =
        new[] { (TwoPlaces, 2), (NoPlaces, 0), (ThreePlaces, 3), (FourPlaces, 4) }
            .SelectMany(list => list.Item1.Split(' ').Select(code => (Code: code, Exponent: list.Item2)))
            .Select((unit, number) => new Unit(unit.Code, unit.Exponent, number))
            .ToDictionary(u => u.Code);

    // One object for each code, so that two currencies are the same where their objects are.
    private readonly Unit? _unit;

    private sealed record Unit(string Code, int Exponent, int Number);

    private Currency(Unit unit) => _unit = unit;

    public string Code => _unit?.Code!;

    public int Exponent => _unit?.Exponent ?? 0;

    /// <summary>Position among all there are, from 0.</summary>
    internal int Number => _unit?.Number ?? 0;

    public static IEnumerable<Currency> All => Known.Values.Select(u => new Currency(u)).OrderBy(c => c.Code, StringComparer.Ordinal);

    /// <exception cref="FormatException">The code is not an ISO 4217 currency code in capitals.</exception>
    public static Currency Of(string code) =>
        TryOf(code, out var currency) ? currency : throw new FormatException($"'{code}' is not an ISO 4217 currency code.");

    public static bool TryOf([NotNullWhen(true)] string? code, out Currency currency)
    {
        var isKnown = Known.TryGetValue(code ?? "", out var unit);
        currency = isKnown ? new Currency(unit!) : default;
        return isKnown;
    }

    public bool Equals(Currency other) => ReferenceEquals(_unit, other._unit);
    public override bool Equals(object? obj) => obj is Currency other && Equals(other);
    public override int GetHashCode() => RuntimeHelpers.GetHashCode(_unit);
    public static bool operator ==(Currency a, Currency b) => a.Equals(b);
    public static bool operator !=(Currency a, Currency b) => !a.Equals(b);
    public override string ToString() => Code;
}
