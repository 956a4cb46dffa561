using System.Globalization;
using EvenSplit.Books;
using Microsoft.AspNetCore.Mvc.Rendering;
using Microsoft.AspNetCore.Mvc.ViewFeatures;
using Microsoft.AspNetCore.Razor.TagHelpers;

namespace EvenSplit.Web.Serving;

/// <summary>Gives every form that posts what makes it count once, and on the page of a thing the last deed it was shown after.</summary>
[HtmlTargetElement("form", Attributes = "[method=post]")]
public sealed class FormTagHelper(LastDeed deeds) : TagHelper
{
    [ViewContext, HtmlAttributeNotBound]
    public ViewContext View { get; set; } = null!;

    /// <summary>After the framework's own, which puts a token only into a form that names no address.</summary>
    public override int Order => 1000;

    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        StayOffOtherHandlers(context, output);
        // One that is sent on has them among its fields.
        if (View.ViewData.Model is AskAgainView or ShownFirstView) return;
        output.PostContent.AppendHtml(Hidden(OnceOnly.Field, Guid.NewGuid().ToString("N")));
        if (View.ViewData.Model is not Pages.BookPage { About: { } thing }) return;
        var items = View.HttpContext.Items;
        if (!items.TryGetValue(thing, out var known)) items[thing] = known = deeds.Of(thing).ToString(CultureInfo.InvariantCulture);
        output.PostContent.AppendHtml(Hidden(ChangesOfOthers.Field, (string)known!));
    }

    /// <summary>A page that answers what one of its forms sent is at that form's address; a form that names no handler is not to be sent there.</summary>
    private void StayOffOtherHandlers(TagHelperContext context, TagHelperOutput output)
    {
        var request = View.HttpContext.Request;
        if (!request.Query.ContainsKey("handler") || context.AllAttributes.Any(a => a.Name == "action" || a.Name.StartsWith("asp-page", StringComparison.Ordinal) || a.Name.StartsWith("asp-route", StringComparison.Ordinal))) return;
        output.Attributes.SetAttribute("action", request.Path + QueryString.Create(request.Query.Where(q => q.Key != "handler")));
    }

    private static TagBuilder Hidden(string name, string value)
    {
        var input = new TagBuilder("input") { TagRenderMode = TagRenderMode.SelfClosing };
        (input.Attributes["type"], input.Attributes["name"], input.Attributes["value"]) = ("hidden", name, value);
        return input;
    }
}
