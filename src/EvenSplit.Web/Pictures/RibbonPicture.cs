using EvenSplit.Books.Sales;
using EvenSplit.Core;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Html;

namespace EvenSplit.Web.Pictures;

/// <summary>The ribbon: money flowing from what came in to where it went, always in the same order and colours.</summary>
internal static class RibbonPicture
{
    private const decimal Height = 250;
    private const decimal Gap = 9;
    private const decimal LabelHeight = 30;

    /// <param name="link">Where each ribbon leads: to the orders or entries it sums.</param>
    /// <param name="month">The month it is of, where that is what it shows; its figures then bear their marks.</param>
    public static IHtmlContent Draw(Ribbon ribbon, Func<Party, string> link, Period? month = null)
    {
        var parts = ribbon.Parts.Where(p => p.Amount != 0).ToArray();
        var flowing = parts.Where(p => p.Amount > 0).Sum(p => p.Amount);
        if (flowing == 0) return HtmlString.Empty;
        var scale = Height / flowing;
        var rights = Rights(parts, scale);
        var bottom = Math.Max(rights[^1].Top + Math.Max(parts[^1].Amount, 0) * scale, rights[^1].Label) + 4;
        var whole = new Money(ribbon.Whole, ribbon.Currency).InWords();
        var svg = new Svg();
        svg.Raw($"<svg class=\"picture\" viewBox=\"0 0 860 {bottom:0.#}\" role=\"group\" aria-label=\"Where {Svg.Encode(whole)} went\">");
        svg.Raw($"<rect x=\"150\" y=\"4\" width=\"12\" height=\"{Height:0.#}\" class=\"party-house party-fill\"/>");
        svg.Text(140, 18, ribbon.Rebate == 0 ? "Charged" : "Charged and credited", "", "end");
        svg.Text(140, 37, whole, "figure", "end");
        var left = 4m;
        for (var i = 0; i < parts.Length; i++)
        {
            var (party, amount) = parts[i];
            var thickness = Math.Max(amount, 0) * scale;
            Part(svg, ribbon, party, amount, left, rights[i], thickness, link(party), month);
            left += thickness;
        }
        svg.Raw("</svg>");
        return new HtmlString(svg.ToString());
    }

    private static void Part(Svg svg, Ribbon ribbon, Party party, long amount, decimal left, (decimal Top, decimal Label) right, decimal thickness, string link, Period? month)
    {
        var money = new Money(amount, ribbon.Currency).InWords();
        var share = ribbon.Whole == 0 ? 0 : Math.Round(100m * amount / ribbon.Whole, 1);
        var (from, to) = (right.Top, right.Top + thickness);
        svg.Raw($"<a href=\"{Svg.Encode(link)}\">");
        if (thickness > 0)
        {
            svg.Raw($"<path class=\"flow\" fill=\"{PartyPatterns.Fill(party)}\" d=\"M162 {left:0.##}C360 {left:0.##} 360 {from:0.##} 560 {from:0.##}V{to:0.##}C360 {to:0.##} 360 {left + thickness:0.##} 162 {left + thickness:0.##}Z\"/>");
            svg.Raw($"<rect x=\"560\" y=\"{from:0.##}\" width=\"12\" height=\"{Math.Max(thickness, 1):0.##}\" fill=\"{PartyPatterns.Fill(party)}\"/>");
        }
        svg.Raw($"<path class=\"axis\" fill=\"none\" d=\"M574 {from + thickness / 2:0.##}L590 {right.Label - 4:0.##}\"/>");
        svg.Text(596, right.Label, Name(party, ribbon));
        if (month is { } of) svg.Raw($"<g {Measure.Of(MeasureOf(party), of, ribbon.Currency.Code)}>");
        svg.Text(790, right.Label, money, amount < 0 ? "figure loss" : "figure", "end");
        if (month is not null) svg.Raw("</g>");
        svg.Text(850, right.Label, FormattableString.Invariant($"{share:0.0} %"), "figure faint", "end");
        svg.Raw("</a>");
    }

    /// <summary>Where each part ends on the right, and its label; labels keep apart even where parts are thin.</summary>
    private static List<(decimal Top, decimal Label)> Rights((Party Party, long Amount)[] parts, decimal scale)
    {
        var rights = new List<(decimal Top, decimal Label)>();
        var top = 4m;
        var label = 0m;
        foreach (var (_, amount) in parts)
        {
            var thickness = Math.Max(amount, 0) * scale;
            label = Math.Max(label + LabelHeight - 7, top + thickness / 2 + 4);
            rights.Add((top, label));
            top += thickness + Gap;
        }
        return rights;
    }

    /// <summary>The house's part is told in two where it keeps shipping.</summary>
    public static string Name(Party party, Ribbon ribbon) => party switch
    {
        Party.House => ribbon.ShippingKept == 0 ? "House" : "House, of goods",
        Party.Shipping => "Shipping kept",
        _ => party.ToString(),
    };

    private static string MeasureOf(Party party) => party switch
    {
        Party.House => Measure.HouseOfGoods,
        Party.Shipping => Measure.ShippingKept,
        _ => party.ToString().ToLowerInvariant(),
    };
}
