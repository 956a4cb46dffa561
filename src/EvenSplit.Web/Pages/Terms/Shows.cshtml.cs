using EvenSplit.Books.Model;
using EvenSplit.Books.Own;
using EvenSplit.Core;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>What an agreement shows those who are on it, with one of their entries as they would see it.</summary>
public sealed class ShowsPage(ShownToPayees shown, OwnTraces traces) : BookPage
{
    [BindProperty(SupportsGet = true)]
    public string Id { get; set; } = "";

    [BindProperty]
    public ShownSteps Steps { get; set; }

    [BindProperty]
    public bool ShowsOrders { get; set; }

    [BindProperty]
    public bool ShowsFees { get; set; }

    /// <summary>The latest entry on it; null where there is none.</summary>
    public OwnEntry? Example { get; private set; }

    internal override string? About => "agreement:" + Id;

    internal override bool IsThere => Book.Rules.FindAgreement(new AgreementId(Id)) is not null;

    public string Name => Book.AgreementName(Id);

    public IActionResult OnGet()
    {
        if (!IsThere) return NotFound();
        var view = shown.Of(Id);
        (Steps, ShowsOrders, ShowsFees) = (view.Steps, view.ShowsOrders, view.ShowsFees);
        Show();
        return Page();
    }

    private AgreementViewRecord Said => new() { AgreementId = Id, Steps = Steps, ShowsOrders = ShowsOrders, ShowsFees = ShowsFees };

    public override void Show() => Example = traces.Example(Id, Said);

    /// <summary>As it would look; nothing is kept.</summary>
    public void OnPostTry() => Show();

    [Overwrites]
    public IActionResult OnPost()
    {
        shown.Save(Said, By);
        Done = "That is what they see from now on.";
        return RedirectToPage(new { handler = "" });
    }
}
