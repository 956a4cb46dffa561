using EvenSplit.Books;
using EvenSplit.Books.Backups;
using EvenSplit.Books.Model;
using EvenSplit.Books.PayRuns;
using EvenSplit.Core;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>Reads what became of payments.</summary>
public sealed class ResultsPage(PaymentResults results, PaymentDoubts doubts, RestoredBook restored, FilesTakenUp files) : BookPage
{
    [BindProperty]
    public new IFormFile? File { get; set; }

    /// <summary>A payment file that was issued after the backup.</summary>
    [BindProperty]
    public IFormFile? Issued { get; set; }

    public IReadOnlyList<PaymentMessageRecord> Messages { get; private set; } = [];

    /// <summary>Answers that were fetched and could not be taken.</summary>
    public IReadOnlyList<(string File, string Fault)> Faulty { get; private set; } = [];

    /// <summary>What a second person has to look at.</summary>
    public IReadOnlyList<PaymentDoubtView> Doubts { get; private set; } = [];

    public void OnGet() => Show();

    public override void Show() => (Messages, Faulty, Doubts) = (results.Latest(), results.PutAside(), doubts.Waiting());

    /// <summary>When the backup was made that the book came back from, as long as that is not settled.</summary>
    public DateTimeOffset? RestoredFrom => restored.From;

    public async Task<IActionResult> OnPostIssuedAsync(CancellationToken cancellation)
    {
        if (Issued is null || Issued.Length == 0) throw new RefusedException("Choose a file that is not empty.", "Issued");
        if (Issued.Length > PaymentResults.MostBytes) throw new RefusedException($"A file may have {PaymentResults.MostBytes / 1024 / 1024} MB.", "Issued");
        using var reader = new StreamReader(Issued.OpenReadStream());
        Done = $"{MoneyWords.Count(files.Take(Issued.FileName, await reader.ReadToEndAsync(cancellation), By), "payment")} taken up as sent.";
        return RedirectToPage(new { handler = "" });
    }

    public IActionResult OnPostTakenUp()
    {
        restored.TakenUp(By);
        Done = "Taken up: runs are issued again.";
        return RedirectToPage(new { handler = "" });
    }

    public string Local(DateTimeOffset at) => Book.Local(at);

    public async Task<IActionResult> OnPostAsync(CancellationToken cancellation)
    {
        if (File is null || File.Length == 0) throw new RefusedException("Choose a file that is not empty.", "File");
        if (File.Length > PaymentResults.MostBytes) throw new RefusedException($"A message may have {PaymentResults.MostBytes / 1024 / 1024} MB.", "File");
        var content = new MemoryStream();
        await File.CopyToAsync(content, cancellation);
        var read = results.Read(File.FileName, content.ToArray(), By);
        Done = $"{read.Confirmed} confirmed, {read.Refused} refused, {read.Returned} returned.{(read.Doubted > 0 ? $" {MoneyWords.Count(read.Doubted, "payment")} did not arrive as it says: somebody else confirms that before it is owed again." : "")}{(read.Unknown.Length > 0 ? " Not of this book: " + read.Unknown : "")}";
        return RedirectToPage();
    }

    [WriteBy(Policies.Approve)]
    public IActionResult OnPostUphold(int doubt)
    {
        doubts.Uphold(doubt, By);
        Done = "Noted.";
        return RedirectToPage(new { handler = "" });
    }

    [WriteBy(Policies.Approve)]
    public IActionResult OnPostDismiss(int doubt)
    {
        doubts.Dismiss(doubt, By);
        Done = "The payment stays what it was.";
        return RedirectToPage(new { handler = "" });
    }
}
