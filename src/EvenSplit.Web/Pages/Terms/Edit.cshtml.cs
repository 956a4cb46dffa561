using System.ComponentModel.DataAnnotations;
using EvenSplit.Books.Forms;
using EvenSplit.Books.Terms;
using EvenSplit.Core;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>Writes an agreement or its next version, beside a worked example of what is being written.</summary>
public class EditAgreementPage(AgreementDesk desk, AgreementDrafts drafts, Rehearsals rehearsals, DraftPreview preview) : BookPage
{
    internal override string? About => Id is null ? null : "agreement:" + Id;

    private const int MostTerms = 200;

    /// <summary>The agreement this is the next version of; null for a new one.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Id { get; set; }

    /// <summary>The saved draft that is being written on.</summary>
    [BindProperty(SupportsGet = true, Name = "saved")]
    public int? DraftId { get; set; }

    /// <summary>The agreement a new one begins as a copy of.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Copy { get; set; }

    /// <summary>First and last day of the orders to rehearse it over; left empty, from the day it holds until today.</summary>
    [BindProperty]
    public DateOnly? RehearseFrom { get; set; }

    [BindProperty]
    public DateOnly? RehearseTo { get; set; }

    /// <summary>For a new agreement, whose payees it is tried on.</summary>
    [BindProperty]
    public string InPlaceOf { get; set; } = "";

    [BindProperty]
    public AgreementDraft Draft { get; set; } = new();

    [BindProperty]
    public ExampleChoice Choice { get; set; } = new();

    /// <summary>The term that has just got another case, or is itself new: writing goes on there.</summary>
    public int? NewAt { get; private set; }

    public DraftView Preview { get; private set; } = null!;

    /// <summary>Agreements with payees on them that a new one can be tried in the place of.</summary>
    public IEnumerable<(string Id, string Name)> Comparable => desk.List().Where(a => a.Payees > 0 && a.Basis == Draft.Basis).Select(a => (a.Id, a.Name));

    public IEnumerable<(string Id, string Name)> Products => Book.Rules.Products.Select(p => (p.Id.Value, Book.ProductName(p.Id.Value)));

    public IEnumerable<string> ScopeIds => TermForm.ScopeIds(Book.Rules);

    public IActionResult OnGet()
    {
        var saved = DraftId is { } known ? drafts.Find(known) : null;
        if (saved is not null)
        {
            Draft = saved;
            Show();
            return Page();
        }
        var draft = Copy is not null ? desk.Draft(Copy) is { } copied ? copied with { Name = "" } : null : Id is null ? new AgreementDraft { Currency = Book.Currency.Code, HoldDays = 30, WindowDays = 60 } : desk.Draft(Id);
        if (draft is null) return NotFound();
        Draft = draft with { From = Period.Next.FirstDay };
        Show();
        return Page();
    }

    [Overwrites]
    public IActionResult OnPost()
    {
        if (!ModelState.IsValid) return Unread();
        if (rehearsals.IsDueBefore(Id, Draft)) return Rehearse(Id!, null, null, toPublish: true);
        var (id, faults) = desk.Publish(Id, Draft, By);
        if (id is null) return Faulty(faults);
        if (DraftId is { } draft) drafts.Discard(draft, By);
        Done = $"{Draft.Name} is published from {Draft.From!.Value.InWords()}.";
        return Redirect($"/{Period}/terms/{id}");
    }

    public IActionResult OnPostSave()
    {
        if (!ModelState.IsValid) return Unread();
        DraftId = drafts.Save(DraftId, Id, Draft, By);
        Done = "The draft is saved; nothing is published.";
        return Redirect($"/{Period}/terms/{(Id is null ? "new" : Id + "/next")}?saved={DraftId}");
    }

    public IActionResult OnPostRehearse() => ModelState.IsValid ? Rehearse(Id ?? InPlaceOf, RehearseFrom, RehearseTo, toPublish: false) : Unread();

    /// <summary>For a browser without scripts: the preview anew, what was typed kept.</summary>
    public IActionResult OnPostRework() => Again(Draft);

    public IActionResult OnPostMoreTerms()
    {
        NewAt = Draft.Terms.Count;
        return Again(WithRoom(Draft, Draft.Terms.Count + 1));
    }

    /// <summary>A table of products and rates, as it stands in a spreadsheet.</summary>
    [BindProperty, StringLength(100_000)]
    public string Pasted { get; set; } = "";

    public IActionResult OnPostPaste()
    {
        if (!ModelState.IsValid) return Unread();
        var (draft, faults) = PastedTerms.Into(Draft, Pasted, Book);
        if (faults.Count > 0) return Faulty(faults);
        if (draft.Terms.Count > MostTerms) return Faulty([new FieldFault(PastedTerms.Field, $"An agreement has at most {MostTerms} terms here; bring more in under By file.")]);
        Pasted = "";
        return Again(draft);
    }

    /// <param name="term">Which term gets another case; the new one stands last.</param>
    public IActionResult OnPostMoreCases(int term)
    {
        if (term < 0 || term >= Draft.Terms.Count || Draft.Terms[term].Cases.Count >= TermForm.MostCases) return Again(Draft);
        NewAt = term;
        return Again(Draft with { Terms = Draft.Terms.Select((t, i) => i == term ? t with { Cases = [.. t.Cases, new CaseDraft()] } : t).ToList() });
    }

    public IActionResult OnPostPreview() => Partial("_Preview", preview.Of(Draft, Choice, Id));

    public override void Show()
    {
        Preview = preview.Of(Draft, Choice, Id);
        Draft = WithRoom(Draft, Math.Max(1, Draft.Terms.Count));
    }

    private IActionResult Rehearse(string inPlaceOf, DateOnly? from, DateOnly? to, bool toPublish)
    {
        DraftId = drafts.Save(DraftId, Id, Draft, By);
        var (rehearsal, faults) = rehearsals.Ask(DraftId.Value, inPlaceOf, Draft, from, to, toPublish, By);
        return rehearsal is null ? Faulty(faults) : Redirect($"/{Period}/terms/rehearsals/{rehearsal}");
    }

    private Microsoft.AspNetCore.Mvc.RazorPages.PageResult Faulty(IReadOnlyList<FieldFault> faults)
    {
        ModelState.Clear();
        Refuse(faults);
        Show();
        return Page();
    }

    private Microsoft.AspNetCore.Mvc.RazorPages.PageResult Unread() => Faulty(Unreadable());

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
