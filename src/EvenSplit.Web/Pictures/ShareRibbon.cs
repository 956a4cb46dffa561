using EvenSplit.Core;
using Microsoft.AspNetCore.Html;

namespace EvenSplit.Web.Pictures;

/// <summary>What a payee's share is of its base, as one line. What the rest goes to is not drawn: it is not theirs to see.</summary>
internal static class ShareRibbon
{
    /// <returns>Nothing where the base is nothing, or the share is more than it.</returns>
    public static IHtmlContent Draw(PayeeTrace trace, Currency currency)
    {
        if (trace.Base is not { Sign: > 0 } whole || trace.Amount.Currency != currency || trace.Amount.Minor < 0 || whole.CompareTo(trace.Amount.Minor) < 0) return HtmlString.Empty;
        var part = ((Fraction)(trace.Amount.Minor * 10_000) / whole).Round() / 100.0;
        return new HtmlString(FormattableString.Invariant($"<svg class=\"own-ribbon\" viewBox=\"0 0 100 6\" preserveAspectRatio=\"none\" aria-hidden=\"true\"><rect class=\"rest\" width=\"100\" height=\"6\"></rect><rect class=\"own\" width=\"{part:0.##}\" height=\"6\"></rect></svg>"));
    }
}
