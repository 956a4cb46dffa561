using EvenSplit.Books.Terms;
using EvenSplit.Core;

namespace EvenSplit.Web.Pages;

/// <summary>One term to be written: for what, and its cases. An agreement has several, a payee's own term is one.</summary>
/// <param name="Name">What the names of its fields begin with.</param>
/// <param name="Field">What the places of its faults begin with.</param>
/// <param name="WriteOn">Whether writing goes on in its last case.</param>
/// <param name="MoreCases">The address that gives it another case.</param>
public sealed record TermForm(BookPage Page, TermDraft Term, string Legend, string Name, string Field, string Currency, bool WriteOn, string MoreCases)
{
    public const int MostCases = 50;

    public static IReadOnlyList<(ScopeKind Kind, string Words)> Scopes { get; } =
        [(ScopeKind.All, "everything"), (ScopeKind.Collection, "a collection"), (ScopeKind.Product, "a product"), (ScopeKind.Variant, "a variant")];

    public static IReadOnlyList<(ProgressWindow Window, string Words)> Windows { get; } =
        [(ProgressWindow.Lifetime, "ever"), (ProgressWindow.Month, "in the month"), (ProgressWindow.Quarter, "in the quarter"), (ProgressWindow.Year, "in the year")];

    /// <summary>What a term can be for, to choose from while typing.</summary>
    public static IEnumerable<string> ScopeIds(Rulebook rules) => rules.Products
        .SelectMany(p => p.Collections.Select(c => c.Value).Append(p.Id.Value).Concat(p.Variants.Select(v => v.Value))).Distinct().Order(StringComparer.Ordinal);

    public string? Invalid(string part) => Page.FaultAt(part) is null ? null : "true";
}
