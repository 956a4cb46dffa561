using EvenSplit.Core;
using Microsoft.AspNetCore.Html;

namespace EvenSplit.Web.Serving;

/// <summary>
/// Marks a figure on a page with what it measures and of what, so that a test can hold equal all that bear one name. What each is stands in docs/figures.md.
/// </summary>
internal static class Measure
{
    public const string Charged = "charged", Tax = "tax", Fees = "fees", NetFees = "net-fees", Affiliates = "affiliates", Collaborators = "collaborators", Vendors = "vendors", House = "house", ShippingKept = "shipping-kept", HouseOfGoods = "house-of-goods",
        Reversals = "reversals", Held = "held", Cleared = "cleared", Carried = "carried", Owed = "owed", InRun = "in-run", Paid = "paid", Payment = "payment";

    /// <param name="of">Of which month, payee, run and currency.</param>
    public static IHtmlContent Of(string measure, params object[] of) => new HtmlString($"data-measure=\"{measure}\" data-of=\"{System.Net.WebUtility.HtmlEncode(string.Join(' ', of))}\"");

    /// <summary>Money in words that bears its mark.</summary>
    public static IHtmlContent Words(string measure, Money money, params object[] of) => new HtmlString($"<span {Of(measure, [.. of, money.Currency.Code])}>{money.InWords()}</span>");
}
