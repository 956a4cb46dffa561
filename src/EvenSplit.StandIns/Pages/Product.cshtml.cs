using EvenSplit.StandIns.Shop;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace EvenSplit.StandIns.Pages;

public sealed class ProductModel(ShopCatalogue catalogue, Till till) : PageModel
{
    [BindProperty(SupportsGet = true)]
    public string Id { get; set; } = "";

    [BindProperty]
    public long Quantity { get; set; } = 1;

    [BindProperty]
    public string Customer { get; set; } = "";

    [BindProperty]
    public string? Code { get; set; }

    [BindProperty]
    public string Payment { get; set; } = "card";

    [BindProperty]
    public bool AsTrial { get; set; }

    public ShopProduct Product => catalogue.Find(Id)!;

    public IActionResult OnGet()
    {
        if (catalogue.Find(Id) is null) return NotFound();
        this.KeepVisitor();
        return Page();
    }

    public IActionResult OnPost()
    {
        if (catalogue.Find(Id) is null) return NotFound();
        if (!ModelState.IsValid || Quantity is < 1 or > 99 || Customer.Length is 0 or > 200) return Page();
        var order = till.Sell(new Basket(Id, Quantity, Customer.Trim(), (Code ?? "").Trim().Replace(" ", "", StringComparison.Ordinal), this.Visitor(), Payment == "test", AsTrial, Payment == "later"));
        return Redirect($"/thanks/{order.Id}");
    }
}
