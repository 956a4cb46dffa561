using EvenSplit.Books;
using EvenSplit.Books.Terms;
using EvenSplit.Core;
using Microsoft.AspNetCore.Html;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Rendering;

namespace EvenSplit.Web.Pages;

/// <summary>Writes an agreement or its next version, beside a worked example of what is being written.</summary>
public class EditAgreementPage(AgreementDesk desk, WorkedExample example, BookCache cache) : BookPage
{
    private const int FirstRows = 4;
    private const int MostRows = 200;

    public static IReadOnlyList<(ScopeKind Kind, string Words)> Scopes { get; } =
        [(ScopeKind.All, "everything"), (ScopeKind.Collection, "a collection"), (ScopeKind.Product, "a product"), (ScopeKind.Variant, "a variant")];

    /// <summary>The agreement this is the next version of; null for a new one.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Id { get; set; }

    [BindProperty]
    public AgreementDraft Draft { get; set; } = new();

    [BindProperty]
    public string? ExampleOrder { get; set; }

    public ExampleView? Example { get; private set; }

    public IEnumerable<string> ScopeIds => cache.Find()!.Rules.Products
        .SelectMany(p => p.Collections.Select(c => c.Value).Append(p.Id.Value).Concat(p.Variants.Select(v => v.Value))).Distinct().Order(StringComparer.Ordinal);

    public IActionResult OnGet()
    {
        var draft = Id is null ? new AgreementDraft { Currency = cache.Find()!.Currency.Code, HoldDays = 30 } : desk.Draft(Id);
        if (draft is null) return NotFound();
        Draft = draft with { From = Period.Next.FirstDay };
        Show();
        return Page();
    }

    public IActionResult OnPost()
    {
        var (id, faults) = desk.Publish(Id, Draft, By);
        if (id is not null)
        {
            Done = $"{Draft.Name} is published from {Draft.From!.Value.InWords()}.";
            return Redirect($"/{Period}/terms/{id}");
        }
        ModelState.Clear();
        Refuse(faults);
        Show();
        return Page();
    }

    /// <summary>For a browser without scripts: the example anew, what was typed kept.</summary>
    public IActionResult OnPostRework() => Again(0);

    public IActionResult OnPostMore() => Again(FirstRows);

    public IActionResult OnPostPreview() => Partial("_Example", example.Of(Draft, ExampleOrder));

    public override void Show()
    {
        Example = example.Of(Draft, ExampleOrder);
        Draft = WithRows(Draft, Math.Max(FirstRows, Draft.Terms.Count + 1));
    }

    public IHtmlContent FaultBelow(string field)
    {
        if (FaultAt(field) is not { } fault) return HtmlString.Empty;
        var words = new TagBuilder("p");
        words.AddCssClass("fault");
        words.InnerHtml.Append(fault);
        return words;
    }

    private Microsoft.AspNetCore.Mvc.RazorPages.PageResult Again(int moreRows)
    {
        ModelState.Clear();
        var rows = Math.Min(Draft.Terms.Count + moreRows, MostRows);
        Show();
        Draft = WithRows(Draft, rows);
        return Page();
    }

    private static AgreementDraft WithRows(AgreementDraft draft, int rows) =>
        draft with { Terms = draft.Terms.Concat(Enumerable.Repeat(new TermDraft(), Math.Max(0, rows - draft.Terms.Count))).ToList() };
}
