using System.Globalization;
using EvenSplit.Core;
using Microsoft.AspNetCore.Html;
using Microsoft.AspNetCore.Mvc.Rendering;
using Microsoft.AspNetCore.Mvc.ViewFeatures;
using Microsoft.AspNetCore.Razor.TagHelpers;

namespace EvenSplit.Web.Serving;

/// <summary>A field for a day, a month or a point in time: it is typed and shown as they are written. What was typed and is none stays in it.</summary>
[HtmlTargetElement("input", Attributes = "[type=date]", TagStructure = TagStructure.WithoutEndTag)]
[HtmlTargetElement("input", Attributes = "[type=month]", TagStructure = TagStructure.WithoutEndTag)]
[HtmlTargetElement("input", Attributes = "[type=datetime-local]", TagStructure = TagStructure.WithoutEndTag)]
public sealed class DayTagHelper : TagHelper
{
    private static readonly string[] Moments = ["yyyy-MM-ddTHH:mm", "yyyy-MM-ddTHH:mm:ss"];

    [ViewContext, HtmlAttributeNotBound]
    public ViewContext View { get; set; } = null!;

    /// <summary>After the framework's own has put name and value.</summary>
    public override int Order => 1000;

    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        var name = Text(output, "name");
        var fault = View.ViewData.ModelState.GetValueOrDefault(name);
        var value = fault is { Errors.Count: > 0, AttemptedValue: { } typed } && name.Length > 0 ? typed : Text(output, "value");
        var (kind, example, shown) = Text(output, "type") switch
        {
            "month" => ("day month", "e.g. Oct 2026", WrittenMonth.Read(value) is { } month ? WrittenMonth.InWords(month) : value),
            "datetime-local" => ("day moment", "e.g. 3 Nov 2026 14:30", DateTime.TryParseExact(value, Moments, CultureInfo.InvariantCulture, DateTimeStyles.None, out var moment) ? WrittenMoment.InWords(moment) : value),
            _ => ("day", "e.g. 3 Nov", DateOnly.TryParseExact(value, "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var day) ? day.InWords() : value),
        };
        output.PreElement.AppendHtml("<span class=\"day-field\">");
        output.PostElement.AppendHtml("</span>");
        output.Attributes.SetAttribute("type", "text");
        output.Attributes.SetAttribute("class", $"{kind} {Text(output, "class").Replace("short", "", StringComparison.Ordinal)}".TrimEnd());
        output.Attributes.SetAttribute("autocomplete", "off");
        output.Attributes.SetAttribute("placeholder", example);
        output.Attributes.SetAttribute("value", shown);
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
