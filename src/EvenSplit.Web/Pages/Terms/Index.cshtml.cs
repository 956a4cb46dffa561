using EvenSplit.Books.Terms;
using EvenSplit.Core;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

public sealed class TermsPage(AgreementDesk desk, AgreementDrafts drafts) : BookPage
{
    public IReadOnlyList<AgreementSummary> Agreements { get; private set; } = [];

    public IReadOnlyList<DraftSummary> Drafts { get; private set; } = [];

    public IReadOnlyList<string> ForNewAffiliates => [.. Agreements.Where(a => a.ForNewAffiliates).Select(a => a.Name)];

    public void OnGet() => Show();

    public override void Show()
    {
        Agreements = desk.List();
        Drafts = drafts.List();
    }

    public IActionResult OnPostDiscard(int draft)
    {
        drafts.Discard(draft, By);
        Done = "The draft is discarded.";
        return RedirectToPage();
    }

    public static string Words(Basis basis) => basis switch
    {
        Basis.Referral => "orders they brought",
        Basis.Supply => "products they supply",
        _ => "products they share in",
    };
}
