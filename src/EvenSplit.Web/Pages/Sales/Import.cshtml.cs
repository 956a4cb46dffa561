using System.ComponentModel.DataAnnotations;
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
    [BindProperty(SupportsGet = true)]
    public ImportKind Kind { get; set; }

    [BindProperty]
    public new IFormFile? File { get; set; }

    /// <summary>The shop or system the file comes from; what its files call columns is remembered.</summary>
    [BindProperty(SupportsGet = true)]
    public string Source { get; set; } = "";

    [BindProperty]
    [StringLength(8000)]
    public string ColumnNames { get; set; } = "";

    public IReadOnlyList<FileSourceRecord> Sources { get; private set; } = [];

    public IReadOnlyList<ImportRecord> Latest { get; private set; } = [];

    public void OnGet()
    {
        Show();
        ColumnNames = Sources.FirstOrDefault(s => s.Name == Source && s.Kind == Kind)?.ColumnNames ?? "";
    }

    public override void Show()
    {
        Latest = imports.Latest(12);
        Sources = imports.Sources();
    }

    public async Task<IActionResult> OnPostAsync(CancellationToken cancellation)
    {
        if (File is null) throw new RefusedException("Choose a file.", "File");
        var names = imports.Remember(Kind, Source, ColumnNames, By);
        await using var content = File.OpenReadStream();
        var id = await imports.QueueAsync(Kind, File.FileName, content, By, names, cancellation);
        return Redirect($"/{Period}/sales/imports/{id}");
    }
}
