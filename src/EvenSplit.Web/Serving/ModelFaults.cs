using System.Text.Encodings.Web;
using Microsoft.AspNetCore.Html;
using Microsoft.AspNetCore.Mvc.ModelBinding;

namespace EvenSplit.Web.Serving;

internal static class ModelFaults
{
    /// <summary>The first thing wrong with a field; null where nothing is.</summary>
    public static string? FaultAt(this ModelStateDictionary fields, string field) =>
        fields.TryGetValue(field, out var state) && state.Errors.Count > 0
            ? Words(state.Errors[0])
            : null;

    private static string Words(ModelError error) => error.ErrorMessage.Length > 0 ? error.ErrorMessage : "This cannot be read.";

    /// <summary>Faults that no field of the page tells: every one is read somewhere.</summary>
    public static IReadOnlyList<string> Untold(this ModelStateDictionary fields, IHtmlContent page, HtmlEncoder encoder)
    {
        using var text = new StringWriter();
        page.WriteTo(text, encoder);
        var told = text.ToString();
        return [.. fields.Values.SelectMany(f => f.Errors).Select(Words).Distinct().Where(m => !told.Contains(encoder.Encode(m), StringComparison.Ordinal))];
    }
}
