using EvenSplit.Books;
using EvenSplit.Books.Bulk;
using EvenSplit.Books.Importing;
using EvenSplit.Books.Model;
using EvenSplit.Formats.Csv;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>Products and terms by file: the difference first, then the change.</summary>
public sealed class BulkPage(BulkChanges changes, ProductsFile products, TermsFile terms, FileColumns columns, BookClock clock) : BookPage
{
    [BindProperty]
    public BulkKind Kind { get; set; }

    [BindProperty]
    public new IFormFile? File { get; set; }

    [BindProperty]
    public bool IsWhole { get; set; }

    [BindProperty]
    public DateOnly? From { get; set; }

    public IReadOnlyList<RowFault> Faults { get; private set; } = [];

    public IReadOnlyList<BulkChangeRecord> Latest { get; private set; } = [];

    public void OnGet()
    {
        From = clock.NextMonthAfter(Period);
        Show();
    }

    public override void Show() => Latest = [.. changes.Latest(BulkKind.Products).Concat(changes.Latest(BulkKind.Terms)).OrderByDescending(c => c.Id)];

    public IActionResult OnGetProducts()
    {
        var (header, rows) = products.Write();
        return new CsvDownload("products.csv", header, rows);
    }

    public IActionResult OnGetTerms()
    {
        var (header, rows) = terms.Write();
        return new CsvDownload("terms.csv", header, rows);
    }

    public async Task<IActionResult> OnPostAsync(CancellationToken cancellation)
    {
        if (File is null || File.Length == 0) throw new RefusedException("Choose a file that is not empty.", "File");
        var holds = Kind == BulkKind.Terms ? ImportKind.Terms : ImportKind.Products;
        // What goes with a whole catalogue can only be told from a file of ours.
        if (!IsWhole && await AskColumnsAsync(columns, File, holds, cancellation) is { } asked) return asked;
        using var reader = new StreamReader(File.OpenReadStream());
        var (id, faults) = changes.Propose(Kind, File.FileName, await reader.ReadToEndAsync(cancellation), IsWhole, From, By);
        if (id is not null) return Redirect($"/{Period}/terms/bulk/{id}");
        Faults = faults;
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        Show();
        return Page();
    }
}
