using EvenSplit.Books;
using EvenSplit.Books.Journal;
using EvenSplit.Books.Model;
using EvenSplit.Books.Posting;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>The journal of the book over some days: the trial balance, the ledger of an account, and both as files; and what the seller calls the accounts.</summary>
public sealed class JournalPage(JournalExport export, BookJournal journal, SellersAccounts accounts) : BookPage
{
    private const int MostShown = 200;

    internal override string? About => "journal-accounts";

    [BindProperty(SupportsGet = true)]
    public DateOnly? From { get; set; }

    [BindProperty(SupportsGet = true)]
    public DateOnly? To { get; set; }

    /// <summary>Whose ledger is shown; null for the trial balance.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Account { get; set; }

    [BindProperty]
    public new IFormFile? File { get; set; }

    public IReadOnlyList<AccountSum> Balance { get; private set; } = [];

    /// <summary>The first postings of the account, and how many there are.</summary>
    public IReadOnlyList<(JournalTransaction Transaction, JournalPosting Posting)> Ledger { get; private set; } = [];

    public long Count { get; private set; }

    public AccountNames Names { get; private set; } = new([]);

    public IReadOnlyList<JournalAccountRecord> Mapped { get; private set; } = [];

    public IReadOnlyList<RowFault> Faults { get; private set; } = [];

    public DateOnly First => From ?? Period.FirstDay;

    public DateOnly Last => To ?? Period.LastDay;

    public void OnGet() => Show();

    public override void Show()
    {
        (Names, Mapped) = (export.Names(), accounts.All());
        if (Last < First)
        {
            ModelState.AddModelError("To", "The last day is before the first.");
            return;
        }
        if (Account is null)
        {
            Balance = export.Movements(First, Last);
            return;
        }
        (Ledger, Count) = journal.Ledger(Account, First, Last, MostShown);
    }

    public IActionResult OnGetText() => new TextDownload($"journal-{Name}.journal", "text/plain", text => export.WriteText(First, Last, text));

    public IActionResult OnGetCsv() => new TextDownload($"journal-{Name}.csv", "text/csv", text => export.WriteCsv(First, Last, text));

    public IActionResult OnGetTrial() => new TextDownload($"trial-balance-{Name}.csv", "text/csv", text => export.WriteTrialBalance(First, Last, text));

    public IActionResult OnGetLedger() => new TextDownload($"ledger-{Name}.csv", "text/csv", text => JournalText.WriteCsv(text, export.Names(), journal.Between(First, Last).Select(t => t with { Postings = [.. t.Postings.Where(p => p.Account == Account)] })));

    public IActionResult OnGetAccounts() => new CsvDownload("accounts.csv", [.. SellersAccounts.Columns.All], accounts.All().Select(a => (string[])[a.Account, a.Code, a.Name]));

    [Overwrites]
    public IActionResult OnPost()
    {
        if (File is null || File.Length == 0) throw new RefusedException("Choose a file that is not empty.", "File");
        using var content = File.OpenReadStream();
        Faults = accounts.Take(content, By);
        if (Faults.Count == 0)
        {
            Done = "The accounts are named as the file says.";
            return RedirectToPage();
        }
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        Show();
        return Page();
    }

    /// <summary>Where what a transaction tells of is seen.</summary>
    public string LinkTo(JournalTransaction t) => t.Source switch
    {
        JournalSource.Order => $"/{Period}/sales/{Uri.EscapeDataString(t.Key)}",
        JournalSource.Entry => $"/{Period}/sales/{Uri.EscapeDataString(t.Note[(t.Note.IndexOf("order:", StringComparison.Ordinal) + "order:".Length)..])}?entry={t.Key}#trace",
        JournalSource.Run => $"/{Period}/pay/{t.Key}",
        JournalSource.Settlement => $"/{Core.Period.Of(t.On)}/pay/bench?shows=all",
        _ => $"/{Core.Period.Of(t.On)}/pay/bench/bank?shows=all",
    };

    /// <summary>The same days, of another account.</summary>
    public string Address(string? account, string? handler = null) => "?" + string.Join('&', new[]
    {
        handler is null ? null : $"handler={handler}", From is { } from ? $"from={CsvDownload.Date(from)}" : null, To is { } to ? $"to={CsvDownload.Date(to)}" : null, account is null ? null : $"account={Uri.EscapeDataString(account)}",
    }.OfType<string>());

    private string Name => $"{CsvDownload.Date(First)}-{CsvDownload.Date(Last)}";
}
