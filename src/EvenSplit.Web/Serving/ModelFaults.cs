using Microsoft.AspNetCore.Mvc.ModelBinding;

namespace EvenSplit.Web.Serving;

internal static class ModelFaults
{
    /// <summary>The first thing wrong with a field; null where nothing is.</summary>
    public static string? FaultAt(this ModelStateDictionary fields, string field) =>
        fields.TryGetValue(field, out var state) && state.Errors.Count > 0
            ? state.Errors[0].ErrorMessage.Length > 0 ? state.Errors[0].ErrorMessage : "This cannot be read."
            : null;
}
