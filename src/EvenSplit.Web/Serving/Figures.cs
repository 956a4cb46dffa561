using EvenSplit.Core;
using Microsoft.AspNetCore.Html;

namespace EvenSplit.Web.Serving;

/// <summary>Figures in columns: grouped, a true minus in red ink, zero as a thin dash, no currency.</summary>
internal static class Figures
{
    public static IHtmlContent Cell(long minor, Currency currency) => minor switch
    {
        0 => new HtmlString("<span class=\"zero\">–</span>"),
        < 0 => new HtmlString($"<span class=\"minus\">{MoneyWords.Figure(minor, currency)}</span>"),
        _ => new HtmlString(MoneyWords.Figure(minor, currency)),
    };

    public static IHtmlContent Cell(Money money) => Cell(money.Minor, money.Currency);

    /// <summary>An exact amount in minor units, which need not be whole; in plain ink, as <see cref="Less"/>.</summary>
    public static IHtmlContent Exact(Fraction minor, Currency currency) => minor.Sign == 0 ? Cell(0, currency) : new HtmlString(minor.ToDecimalText(currency.Exponent));

    /// <summary>Money taken away, shown with its minus but in plain ink: nothing is wrong with a fee.</summary>
    public static IHtmlContent Less(long minor, Currency currency) =>
        minor == 0 ? Cell(0, currency) : new HtmlString(MoneyWords.Figure(-minor, currency));

    /// <summary>Several currencies, each with its sign, one under the other.</summary>
    public static IHtmlContent Several(IReadOnlyList<Money> amounts)
    {
        if (amounts.Count == 0) return new HtmlString("<span class=\"zero\">–</span>");
        return new HtmlString(string.Join("<br>", amounts.Select(a => a.Minor < 0 ? $"<span class=\"minus\">{a.InWords()}</span>" : a.InWords())));
    }

    public static string Words(PayeeRole role) => role.ToString().ToLowerInvariant();
}
