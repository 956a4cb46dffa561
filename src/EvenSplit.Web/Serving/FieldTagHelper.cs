using Microsoft.AspNetCore.Mvc.Rendering;
using Microsoft.AspNetCore.Mvc.ViewFeatures;
using Microsoft.AspNetCore.Razor.TagHelpers;

namespace EvenSplit.Web.Serving;

/// <summary>
/// A field of a form: its label above, help and what is wrong with it below, tied together for a screen reader.
/// <c>&lt;field name="Draft.Name" label="Name" help="…"&gt;</c> goes around one input or select that carries the same id.
/// </summary>
[HtmlTargetElement("field")]
public sealed class FieldTagHelper : TagHelper
{
    /// <summary>The model's name of the field; the control inside has the id that goes with it.</summary>
    public required string Name { get; set; }

    /// <summary>Where the use case reports the fault, when that is not the name's last part.</summary>
    public string? Fault { get; set; }

    public required string Label { get; set; }

    public string? Help { get; set; }

    [ViewContext, HtmlAttributeNotBound]
    public ViewContext View { get; set; } = null!;

    public override async Task ProcessAsync(TagHelperContext context, TagHelperOutput output)
    {
        var id = IdOf(Name);
        var content = await output.GetChildContentAsync();
        var fault = View.ModelState.FaultAt(Fault ?? Name[(Name.LastIndexOf('.') + 1)..]) ?? View.ModelState.FaultAt(Name);
        output.TagName = "div";
        output.Attributes.SetAttribute("class", "field");
        var label = new TagBuilder("label");
        label.Attributes["for"] = id;
        label.InnerHtml.Append(Label);
        output.Content.AppendHtml(label).AppendHtml(Tied(content.GetContent(), id, Help is not null, fault is not null));
        if (Help is not null) output.Content.AppendHtml(Words("help", id + "-help", Help));
        if (fault is not null) output.Content.AppendHtml(Words("fault", id + "-fault", fault));
    }

    /// <summary>The control, tied to its help and its fault for who does not see them.</summary>
    private static string Tied(string control, string id, bool hasHelp, bool hasFault)
    {
        var at = control.IndexOf($"id=\"{id}\"", StringComparison.Ordinal);
        if (at < 0 || (!hasHelp && !hasFault)) return control;
        var by = string.Join(' ', new[] { hasFault ? id + "-fault" : null, hasHelp ? id + "-help" : null }.OfType<string>());
        var (start, end) = (control.LastIndexOf('<', at), control.IndexOf('>', at));
        var tag = control[start..end];
        var attributes = (tag.Contains("aria-describedby", StringComparison.Ordinal) ? "" : $"aria-describedby=\"{by}\" ") + (hasFault && !tag.Contains("aria-invalid", StringComparison.Ordinal) ? "aria-invalid=\"true\" " : "");
        return control.Insert(at, attributes);
    }

    internal static string IdOf(string name) => name.Replace('.', '_').Replace('[', '_').Replace(']', '_');

    private static TagBuilder Words(string cssClass, string id, string words)
    {
        var paragraph = new TagBuilder("p");
        paragraph.AddCssClass(cssClass);
        paragraph.Attributes["id"] = id;
        paragraph.InnerHtml.Append(words);
        return paragraph;
    }
}
