using System.Globalization;
using System.Text;
using System.Text.Encodings.Web;
using EvenSplit.Books.Sales;

namespace EvenSplit.Web.Pictures;

/// <summary>Writes SVG text; coordinates are pixels of the view box.</summary>
internal sealed class Svg
{
    private readonly StringBuilder _text = new();

    public Svg Raw(string markup)
    {
        _text.Append(markup);
        return this;
    }

    public Svg Raw(FormattableString markup)
    {
        _text.Append(FormattableString.Invariant(markup));
        return this;
    }

    public Svg Text(decimal x, decimal y, string words, string cssClass = "", string anchor = "start") =>
        Raw($"<text x=\"{x:0.#}\" y=\"{y:0.#}\" class=\"{cssClass}\" text-anchor=\"{anchor}\">{Encode(words)}</text>");

    public static string Encode(string text) => HtmlEncoder.Default.Encode(text);

    public override string ToString() => _text.ToString();

    public static string Number(decimal value) => value.ToString("0.#", CultureInfo.InvariantCulture);
}

/// <summary>Each party's colour and pattern, so that they tell apart in grey. Drawn once a page.</summary>
internal static class PartyPatterns
{
    private static readonly (Party Party, string Over)[] Patterns =
    [
        (Party.Tax, "<path class=\"over\" d=\"M0 4H8\"/>"),
        (Party.Shipping, "<circle class=\"over\" cx=\"4\" cy=\"4\" r=\"1.5\"/>"),
        (Party.Fees, "<path class=\"over\" d=\"M0 4H8M4 0V8\"/>"),
        (Party.Affiliates, "<path class=\"over\" d=\"M-2 6L6 -2M2 10L10 2\"/>"),
        (Party.Collaborators, "<path class=\"over\" d=\"M-2 2L6 10M2 -2L10 6\"/>"),
        (Party.Vendors, "<path class=\"over\" d=\"M4 0V8\"/>"),
        (Party.House, ""),
    ];

    public static string Fill(Party party) => $"url(#{Name(party)})";

    public static string Class(Party party) => $"party-{Name(party)}";

    public static string Name(Party party) => party.ToString().ToLowerInvariant();

    /// <summary>The patterns' definitions; <see cref="Fill"/> refers to them.</summary>
    public static string Definitions { get; } =
        "<svg width=\"0\" height=\"0\" aria-hidden=\"true\" class=\"sr-only\"><defs>"
        + string.Concat(Patterns.Select(p =>
            $"<pattern id=\"{Name(p.Party)}\" class=\"{Class(p.Party)}\" width=\"8\" height=\"8\" patternUnits=\"userSpaceOnUse\"><rect class=\"party-fill\" width=\"8\" height=\"8\"/>{p.Over}</pattern>"))
        + "</defs></svg>";

    /// <summary>A small square in the party's colour and pattern, for a table's head.</summary>
    public static string Swatch(Party party) =>
        $"<svg class=\"swatch\" viewBox=\"0 0 12 12\" aria-hidden=\"true\"><rect width=\"12\" height=\"12\" fill=\"{Fill(party)}\"/></svg>";
}
