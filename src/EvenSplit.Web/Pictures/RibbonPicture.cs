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

    /// <summary>Where things stand, in the picture's own units.</summary>
    /// <param name="Share">Null where there is no room for per cent.</param>
    private sealed record Layout(string Class, int Width, int Top, int Bar, int From, int To, int Label, int Figure, int? Share);

    private static readonly Layout Wide = new("picture on-wide", 860, 4, 150, 162, 560, 596, 790, 850);

    /// <summary>For a phone, whose letters would be too small otherwise: one unit is one pixel there.</summary>
    private static readonly Layout Narrow = new("picture on-phone", 358, 26, 0, 12, 120, 146, 356, null);

    /// <param name="link">Where each ribbon leads: to the orders or entries it sums.</param>
    /// <param name="month">The month it is of, where that is what it shows; its figures then bear their marks.</param>
    public static IHtmlContent Draw(Ribbon ribbon, Func<Party, string> link, Period? month = null)
    {
        var parts = ribbon.Parts.Where(p => p.Amount != 0).ToArray();
        var flowing = parts.Where(p => p.Amount > 0).Sum(p => p.Amount);
        if (flowing == 0) return HtmlString.Empty;
        return new HtmlString(Draw(ribbon, parts, Height / flowing, Wide, link, month) + Draw(ribbon, parts, Height / flowing, Narrow, link, null));
    }

    private static string Draw(Ribbon ribbon, (Party Party, long Amount)[] parts, decimal scale, Layout layout, Func<Party, string> link, Period? month)
    {
        var rights = Rights(parts, scale, layout.Top);
        var bottom = Math.Max(rights[^1].Top + Math.Max(parts[^1].Amount, 0) * scale, rights[^1].Label) + 4;
        var whole = new Money(ribbon.Whole, ribbon.Currency).InWords();
        var svg = new Svg();
        svg.Raw($"<svg class=\"{layout.Class}\" viewBox=\"0 0 {layout.Width} {bottom:0.#}\" role=\"group\" aria-label=\"Where {Svg.Encode(whole)} went\">");
        svg.Raw($"<rect x=\"{layout.Bar}\" y=\"{layout.Top}\" width=\"12\" height=\"{Height:0.#}\" class=\"party-house party-fill\"/>");
        var charged = ribbon.Rebate == 0 ? "Charged" : "Charged and credited";
        if (layout.Share is not null)
        {
            svg.Text(140, 18, charged, "", "end");
            svg.Text(140, 37, whole, "figure", "end");
        }
        else svg.Text(0, 16, $"{charged} {whole}");
        var left = (decimal)layout.Top;
        for (var i = 0; i < parts.Length; i++)
        {
            var (party, amount) = parts[i];
            var thickness = Math.Max(amount, 0) * scale;
            Part(svg, ribbon, party, amount, left, rights[i], thickness, layout, link(party), month);
            left += thickness;
        }
        svg.Raw("</svg>");
        return svg.ToString();
    }

    private static void Part(Svg svg, Ribbon ribbon, Party party, long amount, decimal left, (decimal Top, decimal Label) right, decimal thickness, Layout at, string link, Period? month)
    {
        var money = new Money(amount, ribbon.Currency).InWords();
        var share = ribbon.Whole == 0 ? 0 : Math.Round(100m * amount / ribbon.Whole, 1);
        var (from, to) = (right.Top, right.Top + thickness);
        var middle = (at.From + at.To) / 2;
        svg.Raw($"<a href=\"{Svg.Encode(link)}\">");
        if (thickness > 0)
        {
            svg.Raw($"<path class=\"flow\" fill=\"{PartyPatterns.Fill(party)}\" d=\"M{at.From} {left:0.##}C{middle} {left:0.##} {middle} {from:0.##} {at.To} {from:0.##}V{to:0.##}C{middle} {to:0.##} {middle} {left + thickness:0.##} {at.From} {left + thickness:0.##}Z\"/>");
            svg.Raw($"<rect x=\"{at.To}\" y=\"{from:0.##}\" width=\"12\" height=\"{Math.Max(thickness, 1):0.##}\" fill=\"{PartyPatterns.Fill(party)}\"/>");
        }
        svg.Raw($"<path class=\"axis\" fill=\"none\" d=\"M{at.To + 14} {from + thickness / 2:0.##}L{at.Label - 6} {right.Label - 4:0.##}\"/>");
        svg.Text(at.Label, right.Label, Name(party, ribbon));
        if (month is { } of) svg.Raw($"<g {Measure.Of(MeasureOf(party), of, ribbon.Currency.Code)}>");
        svg.Text(at.Figure, right.Label, money, amount < 0 ? "figure loss" : "figure", "end");
        if (month is not null) svg.Raw("</g>");
        if (at.Share is { } x) svg.Text(x, right.Label, FormattableString.Invariant($"{share:0.0} %"), "figure faint", "end");
        svg.Raw("</a>");
    }

    /// <summary>Where each part ends on the right, and its label; labels keep apart even where parts are thin.</summary>
    private static List<(decimal Top, decimal Label)> Rights((Party Party, long Amount)[] parts, decimal scale, decimal top)
    {
        var rights = new List<(decimal Top, decimal Label)>();
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
