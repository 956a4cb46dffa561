using EvenSplit.Books;
using EvenSplit.Books.Importing;
using EvenSplit.Books.Model;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>The one door for files: what it cannot read at once it shows as it would be taken.</summary>
[Authorize(Policies.Change)]
public sealed class ImportPage(ImportFiles imports, FileColumns columns) : BookPage
{
    /// <summary>What the file holds; null finds out.</summary>
    [BindProperty(SupportsGet = true)]
    public ImportKind? Kind { get; set; }

    [BindProperty]
    public new IFormFile? File { get; set; }

    public IReadOnlyList<FileSourceRecord> Sources { get; private set; } = [];

    public IReadOnlyList<ImportRecord> Latest { get; private set; } = [];

    public void OnGet() => Show();

    public override void Show()
    {
        Latest = imports.Latest(12);
        Sources = columns.Sources();
    }

    public async Task<IActionResult> OnPostAsync(CancellationToken cancellation)
    {
        if (File is null) throw new RefusedException("Choose a file.", "File");
        await using var content = File.OpenReadStream();
        var import = await columns.ReceiveAsync(Kind, File.FileName, content, By, cancellation);
        return Redirect($"/{Period}/sales/imports/{import.Id}{(import.State == ImportState.Columns ? "/columns" : "")}");
    }

    /// <summary>A file as shops write them, to try it with.</summary>
    public IActionResult OnGetExample(string file)
    {
        if (file is not ("a-shops-orders" or "a-shops-partners")) return NotFound();
        return base.File(typeof(ImportPage).Assembly.GetManifestResourceStream($"samples/{file}.csv")!, "text/csv; charset=utf-8", $"{file}.csv");
    }

    public IActionResult OnPostForget(string source, ImportKind of)
    {
        columns.Forget(source, of, By);
        Done = $"The next file from {source} is shown first.";
        return RedirectToPage();
    }

    public static string Words(ImportKind kind) => kind switch
    {
        ImportKind.Settlement => "a processor’s settlement",
        ImportKind.Statement => "a bank’s statement",
        ImportKind.Outside => "a partner’s report or invoice",
        ImportKind.Refunds => "refunds, chargebacks and cancellations",
        ImportKind.Rates => "exchange rates",
        _ => kind.ToString().ToLowerInvariant(),
    };
}
