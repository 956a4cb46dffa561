using EvenSplit.Books;
using EvenSplit.Core;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>By which rules it is decided who brought an order.</summary>
public sealed class PoliciesPage(BookPolicies policies) : BookPage
{
    internal override string? About => "book:1";

    [BindProperty]
    public ClickModel ClickModel { get; set; }

    [BindProperty]
    public bool AllowSelfReferral { get; set; }

    public (string Name, string Currency, string Zone) Fixed => (Book.Record.Name, Book.Currency.Code, Book.Record.TimeZone);

    public void OnGet() => (ClickModel, AllowSelfReferral) = (Book.Rules.Policy.ClickModel, Book.Rules.Policy.AllowSelfReferral);

    [Overwrites]
    public IActionResult OnPost()
    {
        policies.Save(ClickModel, AllowSelfReferral, By);
        Done = "That is how it is decided.";
        return RedirectToPage();
    }
}
