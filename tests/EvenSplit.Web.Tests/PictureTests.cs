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
}
