using EvenSplit.Books;
using EvenSplit.Books.People;
using EvenSplit.Core;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

public sealed class PeoplePage(PeopleList list, BookClock clock) : BookPage
{
    [BindProperty(SupportsGet = true)]
    public PayeeRole? Role { get; set; }

    /// <summary>Whether everybody is listed.</summary>
    public bool IsWhole => Role is null && Find.Length == 0;

    [BindProperty(SupportsGet = true)]
    public string Find { get; set; } = "";

    public IReadOnlyList<PayeeRow> People { get; private set; } = [];

    public IReadOnlyList<BalanceTotals> Totals { get; private set; } = [];

    public DateOnly Today => clock.Today;

    public void OnGet()
    {
        People = list.Find(Role, Find);
        Totals = PeopleList.Totals(People);
    }
}
