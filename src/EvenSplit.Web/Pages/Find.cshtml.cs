using EvenSplit.Books.Sales;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>What was found; what only one thing can mean opens at once.</summary>
public sealed class FindPage(FindAnything find) : BookPage
{
    [BindProperty(SupportsGet = true)]
    public string Find { get; set; } = "";

    public IReadOnlyList<Found> Found { get; private set; } = [];

    public IActionResult OnGet()
    {
        var text = Find.Trim();
        Found = find.ByText(text);
        var whole = Found.Where(f => f.Name.Equals(text, StringComparison.OrdinalIgnoreCase)).ToArray();
        return Found.Count == 1 || whole.Length == 1 ? Redirect(AddressOf(whole.Length == 1 ? whole[0] : Found[0])) : Page();
    }

    public string AddressOf(Found found)
    {
        var id = Uri.EscapeDataString(found.Id);
        return found.Kind switch
        {
            FoundKind.Order => $"/{Period}/sales/{id}",
            FoundKind.Payee => $"/{Period}/people/{id}",
            FoundKind.Product => $"/{Period}/terms/products/{id}",
            _ => $"/{Period}/terms/{id}",
        };
    }
}
