using EvenSplit.Books;
using EvenSplit.Books.Terms;
using EvenSplit.Core;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>Writes a term of one payee's own, beside a worked example of it.</summary>
public class OwnTermPage(PersonalTerms terms, DraftPreview preview, BookClock clock) : BookPage
{
    [BindProperty(SupportsGet = true)]
    public string Id { get; set; } = "";

    [BindProperty]
    public PersonalTermDraft Draft { get; set; } = new();

    [BindProperty]
    public ExampleChoice Choice { get; set; } = new();

    public bool HasNewCase { get; private set; }

    public string Name { get; private set; } = "";

    /// <summary>What the payee is or was on.</summary>
    public IReadOnlyList<(string Id, string Name)> Agreements { get; private set; } = [];

    public IReadOnlyList<PersonalTermView> Others { get; private set; } = [];

    public IEnumerable<string> ScopeIds => TermForm.ScopeIds(Book.Rules);

    public string Currency => Book.Rules.Agreements.FirstOrDefault(a => a.Id.Value == Draft.Agreement)?.Currency.Code ?? Book.Currency.Code;

    public DraftView Preview { get; private set; } = null!;

    public IActionResult OnGet()
    {
        if (Payee is not { } payee) return NotFound();
        Draft = new PersonalTermDraft { Agreement = payee.Memberships.LastOrDefault()?.Agreement.Value ?? "", From = Book.Time.DateOf(clock.GetUtcNow()) };
        Show();
        return Page();
    }

    public IActionResult OnPost()
    {
        if (Payee is null) return NotFound();
        var unread = Unreadable();
        ModelState.Clear();
        var faults = unread.Length > 0 ? unread : terms.Write(Id, Draft, By);
        if (faults.Count == 0)
        {
            Done = $"The term holds from {Draft.From!.Value.InWords()}; orders since are worked out again, and only differences are posted.";
            return Redirect($"/{Period}/people/{Id}");
        }
        Refuse(faults);
        Show();
        return Page();
    }

    /// <summary>For a browser without scripts: the preview anew, what was typed kept.</summary>
    public IActionResult OnPostRework() => Again(Draft.Term.Cases);

    public IActionResult OnPostMoreCases()
    {
        HasNewCase = true;
        return Again(Draft.Term.Cases.Count < TermForm.MostCases ? [.. Draft.Term.Cases, new CaseDraft()] : Draft.Term.Cases);
    }

    public IActionResult OnPostPreview() => Partial("/Pages/Terms/_Preview.cshtml", preview.OfPersonal(Draft, Choice));

    public override void Show()
    {
        var book = Book;
        Name = book.PayeeName(Id);
        Agreements = [.. Payee!.Memberships.Select(m => m.Agreement).Distinct().Select(a => (a.Value, $"{book.AgreementName(a.Value)} ({book.Rules.Agreement(a).Currency.Code})"))];
        Others = terms.OfPayee(Id);
        Preview = preview.OfPersonal(Draft, Choice);
        if (Draft.Term.Cases.Count == 0) Draft = Draft with { Term = Draft.Term with { Cases = [new CaseDraft()] } };
    }

    private Payee? Payee => Book.Rules.FindPayee(new PayeeId(Id));

    private IActionResult Again(List<CaseDraft> cases)
    {
        if (Payee is null) return NotFound();
        ModelState.Clear();
        Draft = Draft with { Term = Draft.Term with { Cases = cases } };
        Show();
        return Page();
    }
}
