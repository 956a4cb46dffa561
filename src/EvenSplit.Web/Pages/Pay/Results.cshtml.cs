using EvenSplit.Books;
using EvenSplit.Books.Model;
using EvenSplit.Books.PayRuns;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>Reads what became of payments.</summary>
public sealed class ResultsPage(PaymentResults results) : BookPage
{
    [BindProperty]
    public new IFormFile? File { get; set; }

    public IReadOnlyList<PaymentMessageRecord> Messages { get; private set; } = [];

    /// <summary>Answers that were fetched and could not be taken.</summary>
    public IReadOnlyList<(string File, string Fault)> Faulty { get; private set; } = [];

    public void OnGet() => Show();

    public override void Show() => (Messages, Faulty) = (results.Latest(), results.PutAside());

    public string Local(DateTimeOffset at) => Book.Local(at);

    public async Task<IActionResult> OnPostAsync(CancellationToken cancellation)
    {
        if (File is null || File.Length == 0) throw new RefusedException("Choose a file that is not empty.", "File");
        if (File.Length > PaymentResults.MostBytes) throw new RefusedException($"A message may have {PaymentResults.MostBytes / 1024 / 1024} MB.", "File");
        using var reader = new StreamReader(File.OpenReadStream());
        var read = results.Read(File.FileName, await reader.ReadToEndAsync(cancellation), By);
        Done = $"{read.Confirmed} confirmed, {read.Refused} refused, {read.Returned} returned.{(read.Unknown.Length > 0 ? " Not of this book: " + read.Unknown : "")}";
        return RedirectToPage();
    }
}
