using Markdig;
using Markdig.Syntax;
using Markdig.Syntax.Inlines;
using Microsoft.AspNetCore.Html;

namespace EvenSplit.Web.Serving;

/// <summary>Agreement text from Markdown: no HTML of its own, no pictures from elsewhere, links only to the web and to mail.</summary>
internal static class AgreementText
{
    private static readonly MarkdownPipeline Pipeline = new MarkdownPipelineBuilder().DisableHtml().Build();

    public static IHtmlContent Render(string markdown)
    {
        var document = Markdown.Parse(markdown, Pipeline);
        foreach (var link in document.Descendants<LinkInline>().ToArray())
        {
            if (link.IsImage || !IsHarmless(link.Url)) link.Url = "#";
            link.IsImage = false;
        }
        foreach (var link in document.Descendants<AutolinkInline>().ToArray())
        {
            if (!link.IsEmail && !IsHarmless(link.Url)) link.Url = "#";
        }
        return new HtmlString(document.ToHtml(Pipeline));
    }

    private static bool IsHarmless(string? url) =>
        Uri.TryCreate(url, UriKind.Absolute, out var uri) && (uri.Scheme == Uri.UriSchemeHttps || uri.Scheme == Uri.UriSchemeHttp || uri.Scheme == Uri.UriSchemeMailto);
}
