using EvenSplit.Books;
using EvenSplit.Books.Catalogue;
using EvenSplit.Core;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

public sealed class ProductsPage(ProductDesk desk, BookCache cache) : BookPage
{
    [BindProperty(SupportsGet = true)]
    public string Collection { get; set; } = "";

    [BindProperty]
    public ProductDraft Draft { get; set; } = new();

    public IReadOnlyList<ProductRow> Products { get; private set; } = [];

    public IReadOnlyList<(string Name, int Products)> Collections { get; private set; } = [];

    public Currency Currency => cache.Find()!.Currency;

    public IEnumerable<(string Id, string Name)> Vendors => cache.Find()!.Rules.Payees.Where(p => p.Role == PayeeRole.Vendor)
        .Select(p => (p.Id.Value, cache.Find()!.PayeeName(p.Id.Value)));

    public void OnGet() => Show();

    public override void Show()
    {
        Products = desk.List(Collection);
        Collections = desk.Collections();
    }

    public IActionResult OnPost()
    {
        ModelState.Clear();
        var faults = desk.Add(Draft, By);
        if (faults.Count == 0)
        {
            Done = $"{Draft.Name} is in the catalogue.";
            return RedirectToPage();
        }
        Refuse(faults);
        Show();
        return Page();
    }
}
