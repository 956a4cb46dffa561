using EvenSplit.Books;
using EvenSplit.Books.Importing;
using EvenSplit.Books.Model;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

[Authorize(Policies.Change)]
public sealed class ImportPage(ImportFiles imports) : BookPage
{
    [BindProperty]
    public ImportKind Kind { get; set; }

    [BindProperty]
    public new IFormFile? File { get; set; }

    public IReadOnlyList<ImportRecord> Latest { get; private set; } = [];

    public void OnGet() => Show();

    public override void Show() => Latest = imports.Latest(12);

    public async Task<IActionResult> OnPostAsync(CancellationToken cancellation)
    {
        if (File is null) throw new RefusedException("Choose a file.", "File");
        await using var content = File.OpenReadStream();
        var id = await imports.QueueAsync(Kind, File.FileName, content, By, cancellation);
        return Redirect($"/{Period}/sales/imports/{id}");
    }
}
