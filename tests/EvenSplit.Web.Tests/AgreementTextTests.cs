using EvenSplit.Web.Serving;

namespace EvenSplit.Web.Tests;

/// <summary>Agreement text is written by one person and read by others: nothing in it may act.</summary>
public sealed class AgreementTextTests
{
    [Theory]
    [InlineData("**Paid** on the 1st", "<strong>Paid</strong>")]
    [InlineData("- one\n- two", "<li>one</li>")]
    [InlineData("[rules](https://example.org/r)", "href=\"https://example.org/r\"")]
    public void Markdown_is_rendered(string text, string html) => Assert.Contains(html, Rendered(text), StringComparison.Ordinal);

    [Theory]
    [InlineData("<script>alert(1)</script>")]
    [InlineData("<img src=x onerror=alert(1)>")]
    [InlineData("[x](javascript:alert(1))")]
    [InlineData("[x](JaVaScRiPt:alert(1))")]
    [InlineData("[x](data:text/html;base64,PHN2Zz4=)")]
    [InlineData("![x](https://elsewhere.example/pixel.png)")]
    [InlineData("<javascript:alert(1)>")]
    public void Nothing_in_it_acts(string text)
    {
        var html = Rendered(text);
        foreach (var active in new[] { "<script", "<img", "=\"javascript:", "=\"JaVa", "=\"data:" }) Assert.DoesNotContain(active, html, StringComparison.OrdinalIgnoreCase);
    }

    private static string Rendered(string text)
    {
        using var writer = new StringWriter();
        AgreementText.Render(text).WriteTo(writer, System.Text.Encodings.Web.HtmlEncoder.Default);
        return writer.ToString();
    }
}
