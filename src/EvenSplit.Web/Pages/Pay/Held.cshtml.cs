using EvenSplit.Books.Clearing;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>What is held back by hand, to be let go.</summary>
public sealed class HeldPage(EntryHolds holds) : BookPage
{
    public IReadOnlyList<HeldBack> Rows { get; private set; } = [];

    public void OnGet() => Show();

    public override void Show() => Rows = holds.List();

    public IActionResult OnPost(int hold)
    {
        holds.LetGo(hold, By);
        Done = "It clears on its day again.";
        return RedirectToPage();
    }
}
