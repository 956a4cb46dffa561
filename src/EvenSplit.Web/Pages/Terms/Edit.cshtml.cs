using EvenSplit.Books;
using EvenSplit.Books.Forms;
using EvenSplit.Books.Terms;
using EvenSplit.Core;
using Microsoft.AspNetCore.Html;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Rendering;

namespace EvenSplit.Web.Pages;

/// <summary>Writes an agreement or its next version, beside a worked example of what is being written.</summary>
public class EditAgreementPage(AgreementDesk desk, DraftPreview preview, BookCache cache) : BookPage
{
    private const int MostTerms = 200;
    private const int MostCases = 50;

    public static IReadOnlyList<(ScopeKind Kind, string Words)> Scopes { get; } =
        [(ScopeKind.All, "everything"), (ScopeKind.Collection, "a collection"), (ScopeKind.Product, "a product"), (ScopeKind.Variant, "a variant")];

    public static IReadOnlyList<(ProgressWindow Window, string Words)> Windows { get; } =
        [(ProgressWindow.Lifetime, "ever"), (ProgressWindow.Month, "in the month"), (ProgressWindow.Quarter, "in the quarter"), (ProgressWindow.Year, "in the year")];

    /// <summary>The agreement this is the next version of; null for a new one.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Id { get; set; }

    [BindProperty]
    public AgreementDraft Draft { get; set; } = new();

    [BindProperty]
    public ExampleChoice Choice { get; set; } = new();

    public DraftView Preview { get; private set; } = null!;

    public IEnumerable<(string Id, string Name)> Products => cache.Find()!.Rules.Products.Select(p => (p.Id.Value, cache.Find()!.ProductName(p.Id.Value)));

    public IEnumerable<string> ScopeIds => cache.Find()!.Rules.Products
        .SelectMany(p => p.Collections.Select(c => c.Value).Append(p.Id.Value).Concat(p.Variants.Select(v => v.Value))).Distinct().Order(StringComparer.Ordinal);

    public IActionResult OnGet()
    {
        var draft = Id is null ? new AgreementDraft { Currency = cache.Find()!.Currency.Code, HoldDays = 30, WindowDays = 60 } : desk.Draft(Id);
        if (draft is null) return NotFound();
        Draft = draft with { From = Period.Next.FirstDay };
        Show();
        return Page();
    }

    public IActionResult OnPost()
    {
        if (!ModelState.IsValid) return Unread();
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

    /// <summary>For a browser without scripts: the preview anew, what was typed kept.</summary>
    public IActionResult OnPostRework() => Again(Draft);

    public IActionResult OnPostMoreTerms() => Again(WithRoom(Draft, Draft.Terms.Count + 1));

    /// <param name="term">Which term gets another case; the new one stands last.</param>
    public IActionResult OnPostMoreCases(int term) => Again(term >= 0 && term < Draft.Terms.Count && Draft.Terms[term].Cases.Count < MostCases
        ? Draft with { Terms = Draft.Terms.Select((t, i) => i == term ? t with { Cases = [.. t.Cases, new CaseDraft()] } : t).ToList() }
        : Draft);

    public IActionResult OnPostPreview() => Partial("_Preview", preview.Of(Draft, Choice));

    public override void Show()
    {
        Preview = preview.Of(Draft, Choice);
        Draft = WithRoom(Draft, Math.Max(1, Draft.Terms.Count));
    }

    public IHtmlContent FaultBelow(string field)
    {
        if (FaultAt(field) is not { } fault) return HtmlString.Empty;
        var words = new TagBuilder("p");
        words.AddCssClass("fault");
        words.InnerHtml.Append(fault);
        return words;
    }

    /// <summary>What the browser should not have sent: a word in a number's place.</summary>
    private Microsoft.AspNetCore.Mvc.RazorPages.PageResult Unread()
    {
        var unread = ModelState.Where(f => f.Value!.Errors.Count > 0).Select(f => new FieldFault(f.Key.Replace("Draft.", "", StringComparison.Ordinal), "This cannot be read as a number or a date; type it again.")).ToArray();
        ModelState.Clear();
        Refuse(unread);
        Show();
        return Page();
    }

    private Microsoft.AspNetCore.Mvc.RazorPages.PageResult Again(AgreementDraft draft)
    {
        ModelState.Clear();
        Draft = draft;
        Show();
        return Page();
    }

    /// <summary>Empty terms to write into, and in each term a case.</summary>
    private static AgreementDraft WithRoom(AgreementDraft draft, int terms) => draft with
    {
        Terms = draft.Terms.Concat(Enumerable.Repeat(new TermDraft(), Math.Max(0, Math.Min(terms, MostTerms) - draft.Terms.Count)))
            .Select(t => t.Cases.Count > 0 ? t : t with { Cases = [new CaseDraft()] }).ToList(),
    };
}
