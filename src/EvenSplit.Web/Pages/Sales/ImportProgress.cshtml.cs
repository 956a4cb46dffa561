using EvenSplit.Books.Importing;
using EvenSplit.Books.Model;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

public sealed class ImportProgressPage(ImportFiles imports) : BookPage
{
    [BindProperty(SupportsGet = true)]
    public int Id { get; set; }

    public ImportRecord Import { get; private set; } = null!;

    public bool IsUnderWay => Import.State is ImportState.Waiting or ImportState.Running;

    public IActionResult OnGet() => Fetch() ? Page() : NotFound();

    public IActionResult OnGetPart() => Fetch() ? Partial("_ImportState", Import) : NotFound();

    private bool Fetch()
    {
        if (imports.Find(Id) is not { } import) return false;
        Import = import;
        return true;
    }
}
