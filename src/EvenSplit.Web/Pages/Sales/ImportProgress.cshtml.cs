using EvenSplit.Books.Importing;
using EvenSplit.Books.Model;
using EvenSplit.Books.Reconcile;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

public sealed class ImportProgressPage(ImportFiles imports, FilesAsTheyCame files) : BookPage
{
    [BindProperty(SupportsGet = true)]
    public int Id { get; set; }

    public ImportRecord Import { get; private set; } = null!;

    public bool IsUnderWay => Import.State is ImportState.Waiting or ImportState.Running;

    public IActionResult OnGet() => Fetch() ? Page() : NotFound();

    public IActionResult OnGetPart() => Fetch() ? Partial("_ImportState", Import) : NotFound();

    /// <summary>Whether it is kept as it came.</summary>
    public bool IsKept { get; private set; }

    public IActionResult OnGetFile() => Fetch() && files.Open(Id) is { } content ? File(content, "application/octet-stream", Import.FileName) : NotFound();

    private bool Fetch()
    {
        if (imports.Find(Id) is not { } import) return false;
        (Import, IsKept) = (import, files.IsKept(Id));
        return true;
    }
}
