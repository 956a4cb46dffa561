using System.Globalization;
using EvenSplit.Core;
using Microsoft.AspNetCore.Html;
using Microsoft.AspNetCore.Mvc.Rendering;
using Microsoft.AspNetCore.Mvc.ViewFeatures;
using Microsoft.AspNetCore.Razor.TagHelpers;

namespace EvenSplit.Web.Serving;

/// <summary>A field for a day: it is typed and shown as days are written. What was typed and is no day stays in it.</summary>
[HtmlTargetElement("input", Attributes = "[type=date]", TagStructure = TagStructure.WithoutEndTag)]
public sealed class DayTagHelper : TagHelper
{
    [ViewContext, HtmlAttributeNotBound]
    public ViewContext View { get; set; } = null!;

    /// <summary>After the framework's own has put name and value.</summary>
    public override int Order => 1000;

    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        var name = Text(output, "name");
        var fault = View.ViewData.ModelState.GetValueOrDefault(name);
        var value = fault is { Errors.Count: > 0, AttemptedValue: { } typed } && name.Length > 0 ? typed : Text(output, "value");
        output.PreElement.AppendHtml("<span class=\"day-field\">");
        output.PostElement.AppendHtml("</span>");
        output.Attributes.SetAttribute("type", "text");
        output.Attributes.SetAttribute("class", $"day {Text(output, "class").Replace("short", "", StringComparison.Ordinal)}".TrimEnd());
        output.Attributes.SetAttribute("autocomplete", "off");
        output.Attributes.SetAttribute("placeholder", "e.g. 3 Nov");
        output.Attributes.SetAttribute("value", DateOnly.TryParseExact(value, "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var day) ? day.InWords() : value);
    }

    private static string Text(TagHelperOutput output, string attribute) => output.Attributes[attribute]?.Value switch
    {
        null => "",
        IHtmlContent content => Written(content),
        var value => value.ToString() ?? "",
    };

    private static string Written(IHtmlContent content)
    {
        using var text = new StringWriter();
        content.WriteTo(text, NullHtmlEncoder.Default);
        return text.ToString();
    }
}
