using EvenSplit.Books.Catalogue;
using EvenSplit.Books.Terms;
using EvenSplit.Core;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

public sealed class ProductsPage(ProductDesk desk, PersonalTerms terms, AgreementDesk agreements) : BookPage
{
    [BindProperty(SupportsGet = true)]
    public string Collection { get; set; } = "";

    [BindProperty]
    public ProductDraft Draft { get; set; } = new();

    [BindProperty]
    public ShareDraft Share { get; set; } = new();

    public IReadOnlyList<ProductRow> Products { get; private set; } = [];

    public IReadOnlyList<(string Name, int Products)> Collections { get; private set; } = [];

    public GiveShareForm GiveShare => GiveShareForm.For(Book, agreements);

    public Currency Currency => Book.Currency;

    public IEnumerable<(string Id, string Name)> Vendors => ProductPage.VendorsOf(Book);

    public void OnGet()
    {
        Share = Share with { From = Period.Next.FirstDay };
        Show();
    }

    public override void Show()
    {
        Products = desk.List(Collection);
        Collections = desk.Collections();
    }

    public IActionResult OnPost()
    {
        ModelState.Clear();
        return Answer(desk.Save(null, Draft, By), $"{Draft.Name} is in the catalogue.");
    }

    public IActionResult OnPostGive()
    {
        ModelState.Clear();
        return Answer(terms.Give(Share, By), $"{Book.PayeeName(Share.Payee)} shares in {MoneyWords.Count(Share.Products.Count, "product")} from {Share.From?.InWords()}.");
    }
}
