using EvenSplit.Books.Sales;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

public sealed class FindPage(FindAnything find) : BookPage
{
    [BindProperty(SupportsGet = true)]
    public string Find { get; set; } = "";

    public IReadOnlyList<string> Orders { get; private set; } = [];

    public IReadOnlyList<(string Id, string Name)> Payees { get; private set; } = [];

    public IActionResult OnGet()
    {
        (Orders, Payees) = find.ByText(Find.Trim());
        return (Orders, Payees) switch
        {
            ({ Count: 1 }, { Count: 0 }) => Redirect($"/{Period}/sales/{Uri.EscapeDataString(Orders[0])}"),
            ({ Count: 0 }, { Count: 1 }) => Redirect($"/{Period}/people/{Payees[0].Id}"),
            _ => Page(),
        };
    }
}
