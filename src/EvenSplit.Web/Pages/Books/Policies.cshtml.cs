using System.ComponentModel.DataAnnotations;
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

    [BindProperty, StringLength(1000)]
    public string PostalAddress { get; set; } = "";

    [BindProperty]
    public string TaxNumber { get; set; } = "";

    public void OnGet()
    {
        (ClickModel, AllowSelfReferral) = (Book.Rules.Policy.ClickModel, Book.Rules.Policy.AllowSelfReferral);
        (PostalAddress, TaxNumber) = (Book.Record.PostalAddress, Book.Record.TaxNumber);
    }

    /// <summary>The other form of the page stays as it is.</summary>
    public override void Show()
    {
        if (!HttpContext.Request.Query["handler"].Contains("Seller")) (PostalAddress, TaxNumber) = (Book.Record.PostalAddress, Book.Record.TaxNumber);
        else (ClickModel, AllowSelfReferral) = (Book.Rules.Policy.ClickModel, Book.Rules.Policy.AllowSelfReferral);
    }

    [Overwrites]
    public IActionResult OnPostSeller()
    {
        policies.SaveSeller(PostalAddress, TaxNumber, By);
        Done = "That stands on invoices from now on.";
        return RedirectToPage(new { handler = "" });
    }

    [Overwrites]
    public IActionResult OnPost()
    {
        policies.Save(ClickModel, AllowSelfReferral, By);
        Done = "That is how it is decided.";
        return RedirectToPage();
    }
}
