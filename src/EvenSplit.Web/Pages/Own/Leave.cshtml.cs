using EvenSplit.Books;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>Somebody of the house stops seeing what a payee sees.</summary>
public sealed class OwnLeavePage(BookCache cache) : OwnPage(cache)
{
    public async Task<IActionResult> OnGetAsync()
    {
        var (payee, isHouse) = (PayeeId, SeenBy is not null);
        if (!isHouse) return LocalRedirect("/me");
        await HttpContext.SignOutAsync(PayeeCookie.Scheme);
        return LocalRedirect($"/{Core.Period.Of(HttpContext.RequestServices.GetRequiredService<BookClock>().Today)}/people/{payee}");
    }
}
