using System.Diagnostics.CodeAnalysis;

namespace EvenSplit.Formats.Payments;

/// <summary>An account at a bank: whose it is, its IBAN without spaces, and the BIC of the bank.</summary>
public sealed record BankAccount(string Holder, string Iban, string Bic);

/// <summary>International bank account numbers (ISO 13616): the length of the country's, and two check digits.</summary>
public static class Iban
{
    private static readonly Dictionary<string, int> Lengths = new()
    {
        ["AD"] = 24,
        ["AT"] = 20,
        ["BE"] = 16,
        ["BG"] = 22,
        ["CH"] = 21,
        ["CY"] = 28,
        ["CZ"] = 24,
        ["DE"] = 22,
        ["DK"] = 18,
        ["EE"] = 20,
        ["ES"] = 24,
        ["FI"] = 18,
        ["FR"] = 27,
        ["GB"] = 22,
        ["GI"] = 23,
        ["GR"] = 27,
        ["HR"] = 21,
        ["HU"] = 28,
        ["IE"] = 22,
        ["IS"] = 26,
        ["IT"] = 27,
        ["LI"] = 21,
        ["LT"] = 20,
        ["LU"] = 20,
        ["LV"] = 21,
        ["MC"] = 27,
        ["MT"] = 31,
        ["NL"] = 18,
        ["NO"] = 15,
        ["PL"] = 28,
        ["PT"] = 25,
        ["RO"] = 24,
        ["SE"] = 24,
        ["SI"] = 19,
        ["SK"] = 24,
        ["SM"] = 27,
        ["TR"] = 26,
        ["UA"] = 29,
        ["VA"] = 22,
    };

    /// <param name="text">As typed: spaces and case do not matter.</param>
    /// <param name="iban">Without spaces, in capitals.</param>
    /// <param name="fault">What is wrong, in a sentence that says what to do.</param>
    public static bool TryParse(string text, out string iban, [NotNullWhen(false)] out string? fault)
    {
        iban = new string(text.Where(c => c is not (' ' or '\u00a0')).ToArray()).ToUpperInvariant();
        fault = Fault(iban);
        return fault is null;
    }

    /// <summary>In groups of four, as on paper.</summary>
    public static string InGroups(string iban) => string.Join(' ', iban.Chunk(4).Select(c => new string(c)));

    private static string? Fault(string iban)
    {
        if (iban.Length < 4 || !iban.All(char.IsAsciiLetterOrDigit) || !char.IsAsciiLetter(iban[0]) || !char.IsAsciiLetter(iban[1])) return "An IBAN begins with a country's two letters, such as IE, and has letters and digits only.";
        if (!Lengths.TryGetValue(iban[..2], out var length)) return $"No country with IBANs has the letters {iban[..2]}.";
        if (iban.Length != length) return $"An IBAN of {iban[..2]} has {length} characters; this one has {iban.Length}.";
        var remainder = 0;
        foreach (var c in string.Concat(iban.AsSpan(4), iban.AsSpan(0, 4)))
        {
            var value = char.IsAsciiDigit(c) ? c - '0' : c - 'A' + 10;
            remainder = ((remainder * (value > 9 ? 100 : 10)) + value) % 97;
        }
        return remainder == 1 ? null : "The check digits do not fit: a character is wrong, or two are the wrong way round.";
    }
}

/// <summary>Bank identifier codes (ISO 9362): four letters, a country's two, two or five characters more.</summary>
public static class Bic
{
    /// <summary>Countries of the European Economic Area: a payment in euro between them is led by the IBAN alone.</summary>
    private static readonly HashSet<string> LedByIban =
        ["AT", "BE", "BG", "CY", "CZ", "DE", "DK", "EE", "ES", "FI", "FR", "GR", "HR", "HU", "IE", "IS", "IT", "LI", "LT", "LU", "LV", "MT", "NL", "NO", "PL", "PT", "RO", "SE", "SI", "SK"];

    /// <summary>Whether a payment to an account has to name its bank.</summary>
    /// <param name="currency">As ISO 4217 writes it.</param>
    public static bool IsNeeded(string iban, string currency) => currency != "EUR" || iban.Length < 2 || !LedByIban.Contains(iban[..2]);

    public static bool TryParse(string text, out string bic, [NotNullWhen(false)] out string? fault)
    {
        bic = text.Trim().ToUpperInvariant();
        fault = bic.Length is not (8 or 11) ? "A BIC has 8 or 11 characters."
            : !bic.Take(6).All(char.IsAsciiLetter) || !bic.All(char.IsAsciiLetterOrDigit) ? "A BIC is six letters, then letters or digits."
            : null;
        return fault is null;
    }
}
