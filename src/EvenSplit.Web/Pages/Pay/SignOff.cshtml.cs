using EvenSplit.Books;
using EvenSplit.Books.Clearing;
using EvenSplit.Books.Sales;
using EvenSplit.Core;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>Signs off orders, one or many.</summary>
public sealed class SignOffPage(ClearingCalendar calendar, CorrectOrder correct) : BookPage
{
    [BindProperty]
    public List<string> Marked { get; set; } = [];

    public IReadOnlyList<AwaitingSignOff> Orders { get; private set; } = [];

    public void OnGet() => Show();

    public override void Show() => Orders = calendar.Awaiting();

    public IActionResult OnPost(bool all)
    {
        if (all) Marked = [.. calendar.Awaiting().Select(o => o.OrderId)];
        if (Marked.Count == 0) throw new RefusedException("Mark at least one order.");
        foreach (var order in Marked) correct.SignOff(order, By);
        Done = $"{MoneyWords.Count(Marked.Count, "order")} signed off.";
        return RedirectToPage();
    }
}
