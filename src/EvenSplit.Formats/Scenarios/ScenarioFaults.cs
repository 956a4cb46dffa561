using EvenSplit.Core;

namespace EvenSplit.Formats.Scenarios;

/// <summary>One fault of a scenario file.</summary>
/// <param name="Place">Where, as a path in the JSON: <c>$.orders[3].lines[0].quantity</c>.</param>
/// <param name="Message">What is there and what was expected.</param>
public sealed record ScenarioFault(string Place, string Message)
{
    /// <summary>One line, whatever stands in the ids it names.</summary>
    public override string ToString() => OneLine.Of($"{Place}: {Message}");
}

/// <summary>The file is not what the contract's section 10 allows.</summary>
public sealed class ScenarioFaultException(IReadOnlyList<ScenarioFault> faults) : Exception(string.Join(Environment.NewLine, faults))
{
    public IReadOnlyList<ScenarioFault> Faults { get; } = faults;
}

/// <summary>Collects the faults of one file, in the order found.</summary>
internal sealed class FaultList
{
    private readonly List<ScenarioFault> _faults = [];
    private string[] _mended = [];

    public IReadOnlyList<ScenarioFault> Faults => _faults;

    public void Add(string place, string message)
    {
        // Around a value that was not even readable nothing more can be said with reason.
        if (_mended.Any(m => Within(place, m) || Within(m, place))) return;
        _faults.Add(new ScenarioFault(place, message));
    }

    /// <summary>From here on nothing is added about the places that are at fault already.</summary>
    public void Mend() => _mended = _faults.Select(f => f.Place).ToArray();

    /// <summary>Whether an id of a list may be missing only because it could not be read.</summary>
    public bool MayMiss(string list) => _mended.Any(m => Within(list, m)
        || (Within(m, list) && (m.EndsWith(']') || m.EndsWith(".id", StringComparison.Ordinal) || m.Contains(".variants", StringComparison.Ordinal))));

    private static bool Within(string place, string container) =>
        place.StartsWith(container, StringComparison.Ordinal) && (place.Length == container.Length || place[container.Length] is '.' or '[');
}

/// <summary>Checks of single values; each takes the place as text already made, so a good value in a hot loop is asked first.</summary>
internal static class ValueFaults
{
    public static bool IsMoney(long minor) => minor is >= 0 and <= Money.MaxMinor;

    public static string Amount(long minor) => minor < 0
        ? $"{minor} is below 0; only adjustments may be."
        : $"{minor} is beyond {Money.MaxMinor}, the largest amount there is.";

    public static void MoneyAt(this FaultList faults, string place, long? minor)
    {
        if (minor is { } value && !IsMoney(value)) faults.Add(place, Amount(value));
    }

    public static void CurrencyAt(this FaultList faults, string place, string? code)
    {
        if (code is not null && !Currency.TryOf(code, out _)) faults.Add(place, NoCurrency(code));
    }

    public static string NoCurrency(string code) => $"'{code}' is not an ISO 4217 currency code.";

    /// <summary>A share: from 0 to 1 with at most six places.</summary>
    public static void ShareAt(this FaultList faults, string place, string? text)
    {
        if (text is null) return;
        var isRate = Rate.TryParse(text, out var rate);
        if (isRate ? rate.Millionths > Rate.One : Rate.IsDecimal(text, out var places) && places <= Rate.MostPlaces)
        {
            faults.Add(place, $"{text} is above 1; as a fraction, 12.5 % is 0.125.");
        }
        else if (!isRate) faults.Add(place, NoRate(text));
    }

    /// <summary>Why a text is no rate.</summary>
    public static string NoRate(string text)
    {
        var isNegative = text.StartsWith('-');
        if (!Rate.IsDecimal(text.AsSpan(isNegative ? 1 : 0), out var places)) return $"'{text}' is not a decimal fraction such as 0.125.";
        if (isNegative) return $"'{text}' is below 0.";
        return places > Rate.MostPlaces ? $"'{text}' has more than six places. Zeros at its end count." : $"'{text}' is beyond the largest rate there is.";
    }

    /// <summary>Ids and codes that are to be compared name something.</summary>
    public static void NotEmptyAt(this FaultList faults, string place, string? id, string what = "an id")
    {
        if (id is { Length: 0 }) faults.Add(place, $"{what} has at least one character.");
    }

    public static void WordAt<T>(this FaultList faults, string place, string? word) where T : struct, Enum
    {
        if (word is not null && !Words.TryRead<T>(word, out _)) faults.Add(place, Words.NoWord<T>(word));
    }

    public static void CountAt(this FaultList faults, string place, long? count, string of = "")
    {
        if (count < 0) faults.Add(place, $"{count} is below 0{of}.");
    }

    public static void UnknownAt(this FaultList faults, string place, string what, string id)
    {
        if (!faults.MayMiss(what == "variant" ? "$.products" : $"$.{what}s")) faults.Add(place, $"there is no {what} '{id}'.");
    }

    public static void TwiceAt(this FaultList faults, string place, string what, string id) => faults.Add(place, $"{what} '{id}' is there already; an id is used once.");
}
