using System.Globalization;
using System.Text.RegularExpressions;
using System.Xml.Linq;
using EvenSplit.Books.Sales;
using EvenSplit.Core;
using EvenSplit.Web.Pictures;
using Microsoft.AspNetCore.Html;

namespace EvenSplit.Web.Tests;

/// <summary>Pictures are drawn from the figures beside them: well-formed, every part a link, no figure lost.</summary>
public sealed class PictureTests
{
    private static readonly Currency Eur = Currency.Of("EUR");

    private static XElement Draw(IHtmlContent content)
    {
        using var text = new StringWriter();
        content.WriteTo(text, System.Text.Encodings.Web.HtmlEncoder.Default);
        return XElement.Parse(text.ToString());
    }

    /// <summary>The ribbon as it is drawn for a wide page and for a phone.</summary>
    private static XElement[] Both(IHtmlContent content)
    {
        using var text = new StringWriter();
        content.WriteTo(text, System.Text.Encodings.Web.HtmlEncoder.Default);
        return [.. XElement.Parse($"<both>{text}</both>").Elements("svg")];
    }

    [Fact]
    public void Every_ribbon_is_a_link_with_its_figure()
    {
        var ribbon = Ribbon.Of(Eur, charged: 10_000, rebate: 0, tax: 1500, fees: 300, affiliates: 700, collaborators: 500, vendors: 0, house: 7000, shippingKept: 400);
        var both = Both(RibbonPicture.Draw(ribbon, party => "/" + party));
        Assert.Equal(2, both.Length);
        foreach (var svg in both)
        {
            var links = svg.Descendants("a").ToArray();
            Assert.Equal(["/Tax", "/Shipping", "/Fees", "/Affiliates", "/Collaborators", "/House"], links.Select(a => a.Attribute("href")!.Value));
            Assert.Equal(["€15.00", "€4.00", "€3.00", "€7.00", "€5.00", "€66.00"], links.Select(a => a.Elements("text").ElementAt(1).Value));
        }
    }

    [Fact]
    public void A_house_that_loses_is_named_in_red_and_drawn_as_nothing()
    {
        var ribbon = Ribbon.Of(Eur, charged: 1000, rebate: 0, tax: 0, fees: 0, affiliates: 1300, collaborators: 0, vendors: 0, house: -300, shippingKept: 0);
        var house = Both(RibbonPicture.Draw(ribbon, _ => "/"))[0].Descendants("a").Last();
        Assert.Equal("−€3.00", house.Elements("text").ElementAt(1).Value);
        Assert.Equal("figure loss", house.Elements("text").ElementAt(1).Attribute("class")!.Value);
        Assert.Empty(house.Elements("rect"));
    }

    [Fact]
    public void Nothing_charged_draws_nothing() =>
        Assert.Same(HtmlString.Empty, RibbonPicture.Draw(Ribbon.Of(Eur, 0, 0, 0, 0, 0, 0, 0, 0, 0), _ => "/"));

    [Fact]
    public void A_waterfall_shows_each_step_and_escapes_its_words()
    {
        WaterfallStep[] steps =
        [
            new("Charged", 4728, Party.House, true), new("Tax", -883, Party.Tax, false), new("Pia <Potter>", -500, Party.Collaborators, false, "?entry=1"), new("The house", 3345, Party.House, true),
        ];
        var svg = Draw(WaterfallPicture.Draw(steps, Eur));
        Assert.Equal(["47.28", "−8.83", "−5.00", "33.45"], svg.Descendants("text").Where(t => t.Attribute("class")!.Value.StartsWith("figure", StringComparison.Ordinal)).Select(t => t.Value));
        Assert.Contains(svg.Descendants("text"), t => t.Value == "Pia <Potter>");
        Assert.Equal("?entry=1", Assert.Single(svg.Descendants("a")).Attribute("href")!.Value);
        Assert.All(svg.Descendants("rect"), r => Assert.True(decimal.Parse(r.Attribute("width")!.Value, System.Globalization.CultureInfo.InvariantCulture) >= 1));
    }

    [Fact]
    public void Every_party_has_a_pattern_of_its_own()
    {
        var patterns = XElement.Parse(PartyPatterns.Definitions).Descendants("pattern").ToArray();
        Assert.Equal(Enum.GetValues<Party>().Select(PartyPatterns.Name).Order(), patterns.Select(p => p.Attribute("id")!.Value).Order());
        Assert.Equal(patterns.Length, patterns.Select(p => string.Concat(p.Elements().Skip(1))).Distinct().Count());
    }

    [Fact]
    public void Lines_of_an_offer_path_cross_neither_offers_nor_words()
    {
        OfferStep Step(int? accepted, int? declined) => new(new ProductId("guide"), accepted, declined);
        var svg = Draw(PathPicture.Draw(new OfferPath("p", "After a guide", [Step(1, 3), Step(4, 2), Step(4, null), Step(4, null), Step(null, null)]), _ => "Guide, €24.00"));
        var offers = svg.Elements("rect").Select(r => (X: Number(r, "x"), Y: Number(r, "y"), ToX: Number(r, "x") + Number(r, "width"), ToY: Number(r, "y") + Number(r, "height"))).ToArray();
        // Letters of 6.6 pixels, as the page's font draws them at this size.
        var words = svg.Elements("text").Where(t => t.Value.Contains("ed", StringComparison.Ordinal)).Select(t => (X: Number(t, "x"), Y: Number(t, "y") - 9, ToX: Number(t, "x") + t.Value.Length * 6.6, ToY: Number(t, "y") + 3)).ToArray();
        Assert.Equal((5, 10), (offers.Length, words.Length));
        foreach (var line in svg.Elements("path").Where(p => p.Attribute("class")!.Value.StartsWith("answer", StringComparison.Ordinal)))
        {
            var crossed = Points(line.Attribute("d")!.Value).SelectMany(p => offers.Concat(words).Where(b => p.X > b.X && p.X < b.ToX && p.Y > b.Y && p.Y < b.ToY));
            Assert.True(!crossed.Any(), $"{line.Attribute("d")!.Value} crosses {crossed.FirstOrDefault()}");
        }
    }

    private static double Number(XElement of, string attribute) => double.Parse(of.Attribute(attribute)!.Value, CultureInfo.InvariantCulture);

    /// <summary>Points of a line of level pieces and curves, close to each other.</summary>
    private static IEnumerable<(double X, double Y)> Points(string line)
    {
        var (x, y) = (0.0, 0.0);
        foreach (var piece in Regex.Matches(line, "([MHC])([^MHC]*)").AsEnumerable())
        {
            var to = piece.Groups[2].Value.Split(' ', StringSplitOptions.RemoveEmptyEntries).Select(n => double.Parse(n, CultureInfo.InvariantCulture)).ToArray();
            var (x1, y1, x2, y2, x3, y3) = to.Length == 6 ? (to[0], to[1], to[2], to[3], to[4], to[5]) : piece.Groups[1].Value == "M" ? (to[0], to[1], to[0], to[1], to[0], to[1]) : (x, y, to[0], y, to[0], y);
            if (piece.Groups[1].Value != "M")
            {
                for (var t = 0.0; t <= 1; t += 0.01)
                {
                    var u = 1 - t;
                    yield return (u * u * u * x + 3 * u * u * t * x1 + 3 * u * t * t * x2 + t * t * t * x3, u * u * u * y + 3 * u * u * t * y1 + 3 * u * t * t * y2 + t * t * t * y3);
                }
            }
            (x, y) = (x3, y3);
        }
    }
}
