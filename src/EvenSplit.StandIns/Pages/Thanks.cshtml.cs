using EvenSplit.StandIns.Shop;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace EvenSplit.StandIns.Pages;

public sealed class ThanksModel(ShopState state, Till till) : PageModel
{
    public ShopOrder Order { get; private set; } = null!;

    public ShopProduct? Offer => till.Offered(Order);

    public IActionResult OnGet(string id)
    {
        if (state.Read(k => k.Orders.Find(o => o.Id == id)) is not { } order) return NotFound();
        Order = order;
        return Page();
    }

    public IActionResult OnPost(string id, bool accepted)
    {
        if (state.Read(k => k.Orders.Find(o => o.Id == id)) is null) return NotFound();
        Order = till.Answer(id, accepted);
        return Redirect($"/thanks/{id}");
    }
}
