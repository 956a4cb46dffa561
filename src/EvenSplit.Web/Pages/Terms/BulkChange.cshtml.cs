using EvenSplit.Books.Bulk;
using EvenSplit.Books.Model;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>What a file of changes would change, or has changed.</summary>
public sealed class BulkChangePage(BulkChanges changes) : BookPage
{
    [BindProperty(SupportsGet = true)]
    public int Id { get; set; }

    public BulkView View { get; private set; } = null!;

    internal override bool IsThere => changes.Find(Id) is not null;

    public IActionResult OnGet()
    {
        Show();
        return View is null ? NotFound() : Page();
    }

    public override void Show() => View = changes.Find(Id)!;

    public IActionResult OnPostApply()
    {
        changes.Apply(Id, By);
        Done = "The file is applied.";
        return RedirectToPage();
    }

    public IActionResult OnPostUndo()
    {
        changes.Undo(Id, By);
        Done = "Everything the file changed is as it was.";
        return RedirectToPage();
    }

    public IActionResult OnPostDiscard()
    {
        Show();
        changes.Discard(Id, By);
        Done = "The file is discarded; it changed nothing.";
        return Redirect($"/{Period}/{(View.Record.Kind == BulkKind.Payees ? "people" : "terms/bulk")}");
    }

    public static string Words(BulkState state) => state switch
    {
        BulkState.Shown => "waits to be applied",
        BulkState.Applied => "applied",
        BulkState.Undone => "applied and undone",
        _ => "discarded",
    };
}
