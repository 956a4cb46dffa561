using EvenSplit.Books.Model;
using EvenSplit.Books.Own;
using EvenSplit.Books.PayRuns;
using EvenSplit.Core;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>What an agreement shows those who are on it, with one of their entries as they would see it.</summary>
public sealed class ShowsPage(ShownToPayees shown, OwnTraces traces, SelfBills selfBills) : BookPage
{
    [BindProperty(SupportsGet = true)]
    public string Id { get; set; } = "";

    [BindProperty]
    public ShownSteps Steps { get; set; }

    [BindProperty]
    public bool ShowsOrders { get; set; }

    [BindProperty]
    public bool ShowsFees { get; set; }

    [BindProperty]
    public bool WritesInvoices { get; set; }

    /// <summary>How many on it have no address or tax number to stand on an invoice.</summary>
    public int Incomplete { get; private set; }

    /// <summary>The latest entry on it; null where there is none.</summary>
    public OwnEntry? Example { get; private set; }

    internal override string? About => "agreement:" + Id;

    internal override bool IsThere => Book.Rules.FindAgreement(new AgreementId(Id)) is not null;

    public string Name => Book.AgreementName(Id);

    public IActionResult OnGet()
    {
        if (!IsThere) return NotFound();
        var view = shown.Of(Id);
        (Steps, ShowsOrders, ShowsFees, WritesInvoices) = (view.Steps, view.ShowsOrders, view.ShowsFees, view.SelfBills);
        Show();
        return Page();
    }

    private AgreementViewRecord Said => new() { AgreementId = Id, Steps = Steps, ShowsOrders = ShowsOrders, ShowsFees = ShowsFees, SelfBills = WritesInvoices };

    public override void Show() => (Example, Incomplete) = (traces.Example(Id, Said), selfBills.Incomplete(Id));

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
