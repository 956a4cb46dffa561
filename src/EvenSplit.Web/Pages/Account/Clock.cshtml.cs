using EvenSplit.Books;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>Moves a demonstration book's clock forward, a day at a time.</summary>
public sealed class ClockPage(BookClock clock) : BookPage
{
    public IActionResult OnGet() => Redirect("/");

    public IActionResult OnPost(string? back)
    {
        clock.MoveTo(clock.Today.AddDays(1));
        return LocalRedirect(Url.IsLocalUrl(back) ? back : "/");
    }
}
