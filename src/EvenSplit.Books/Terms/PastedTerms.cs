using System.Text.RegularExpressions;
using EvenSplit.Books.Forms;

namespace EvenSplit.Books.Terms;

/// <summary>
/// Takes a table of products and rates into a draft, as it is pasted from a spreadsheet: a line each, with a product, a variant or a collection by its id, or a product by its name, and a percentage.
/// </summary>
public static partial class PastedTerms
{
    /// <summary>The field that its faults are told at.</summary>
    public const string Field = "Pasted";

    private const int MostTold = 5;

    /// <returns>The draft with a term for each line, in the place of a plain one for the same; or the draft as it was, and what is wrong.</returns>
    public static (AgreementDraft Draft, IReadOnlyList<FieldFault> Faults) Into(AgreementDraft draft, string text, OpenedBook book)
    {
        var (terms, faults) = (draft.Terms.Where(t => !t.IsBlank).ToList(), new List<string>());
        var (number, taken) = (0, 0);
        foreach (var line in text.ReplaceLineEndings("\n").Split('\n'))
        {
            number++;
            if (line.Trim().Length == 0) continue;
            var match = Row().Match(line.Trim());
            if (!match.Success)
            {
                // The head of the table.
                if (number > 1) faults.Add($"Line {number} has no rate: write a product, then a percentage such as 12.5.");
                continue;
            }
            var what = match.Groups["what"].Value.Trim().Trim('"');
            if (Scope(what, book) is not var (kind, id))
            {
                faults.Add($"Line {number}: {what} is no product, variant or collection of the book.");
                continue;
            }
            taken++;
            Put(terms, kind, id, match.Groups["rate"].Value.Replace(',', '.'));
        }
        if (faults.Count == 0 && taken == 0) faults.Add("Paste at least one line: a product and its rate in percent.");
        return faults.Count == 0
            ? (draft with { Terms = terms }, [])
            : (draft, [new FieldFault(Field, string.Join(" ", faults.Take(MostTold)) + (faults.Count > MostTold ? $" And {faults.Count - MostTold} more. " : " ") + "Nothing was taken in.")]);
    }

    /// <summary>In the place of a term for the same that has one rate and no condition; one with more stays, and is followed by it.</summary>
    private static void Put(List<TermDraft> terms, Core.ScopeKind kind, string id, string percent)
    {
        var term = new TermDraft { ScopeKind = kind, ScopeId = id, Cases = [new CaseDraft { Percent = percent }] };
        var at = terms.FindIndex(t => t.ScopeKind == kind && t.ScopeId.Trim() == id && t.Cases is [{ HasConditions: false }]);
        if (at < 0) terms.Add(term);
        else terms[at] = term;
    }

    private static (Core.ScopeKind Kind, string Id)? Scope(string what, OpenedBook book)
    {
        if (what.ToLowerInvariant() is "everything" or "all") return (Core.ScopeKind.All, "");
        foreach (var product in book.Rules.Products)
        {
            if (Is(product.Id.Value) || Is(book.ProductName(product.Id.Value))) return (Core.ScopeKind.Product, product.Id.Value);
        }
        foreach (var product in book.Rules.Products)
        {
            if (product.Variants.Select(v => v.Value).FirstOrDefault(Is) is { } variant) return (Core.ScopeKind.Variant, variant);
            if (product.Collections.Select(c => c.Value).FirstOrDefault(Is) is { } collection) return (Core.ScopeKind.Collection, collection);
        }
        return null;

        bool Is(string name) => string.Equals(name, what, StringComparison.OrdinalIgnoreCase);
    }

    [GeneratedRegex(@"^(?<what>.+?)[\t;, ]\s*""?(?<rate>\d{1,3}(?:[.,]\d{1,4})?)\s*%?""?$")]
    private static partial Regex Row();
}
