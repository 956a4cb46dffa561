using EvenSplit.Books;
using EvenSplit.Books.Joining;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>Where the mailed link leads. Only the button confirms: readers of mail open links by themselves.</summary>
[AllowAnonymous]
public sealed class ConfirmApplicationPage(Applying applying, BookCache cache) : PublicPage(cache)
{
    [BindProperty(SupportsGet = true)]
    public string Token { get; set; } = "";

    /// <summary>What the button came to; null before it.</summary>
    public (bool IsKnown, bool IsIn)? Outcome { get; private set; }

    public void OnGet()
    {
    }

    [WriteBy(Policies.Anyone)]
    public IActionResult OnPost()
    {
        Outcome = applying.Confirm(Token, Site);
        return Page();
    }
}
