using EvenSplit.Books;
using EvenSplit.Core;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>Leads to the month whose end there is to do: the one before, until it is well into the next.</summary>
public sealed class IndexPage(BookClock clock) : BookPage
{
    private const int MonthEndIsDoneBy = 20;

    public IActionResult OnGet()
    {
        var today = clock.Today;
        var current = Period.Of(today);
        return Redirect("/" + (today.Day <= MonthEndIsDoneBy ? current.Previous : current));
    }
}
