using EvenSplit.Books;
using EvenSplit.Books.Model;
using EvenSplit.Books.PayRuns;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>The ageing of what is owed, and what two persons give up.</summary>
public sealed class OwedPage(OwedBalances balances, BookClock clock) : BookPage
{
    [BindProperty(SupportsGet = true)]
    public string Who { get; set; } = "";

    public IReadOnlyList<OwedRow> Rows { get; private set; } = [];

    public IReadOnlyList<WriteOffRecord> Waiting { get; private set; } = [];

    /// <summary>The balance somebody is about to give up.</summary>
    public OwedRow? ToWriteOff { get; private set; }

    public DateOnly Today => clock.Today;

    public void OnGet(string? writeOff)
    {
        Show();
        ToWriteOff = Rows.FirstOrDefault(r => r.PayeeId == writeOff && r.CanBeWrittenOff);
    }

    public override void Show()
    {
        Rows = [.. balances.Find().Where(r => Who switch { "left" => r.HasLeft, "negative" => r.Sum < 0, _ => true })];
        Waiting = balances.Waiting();
    }

    public string NameOf(string payee) => Book.PayeeName(payee);

    public IActionResult OnPostPropose(string payee, string? reason) => Step(() => balances.Propose(payee, reason ?? "", By), "It is proposed; somebody else confirms it.");

    [WriteBy(Policies.Approve)]
    public IActionResult OnPostConfirm(int writeOff) => Step(() => balances.Confirm(writeOff, By), "It is written off; the next run takes it.");

    [WriteBy(Policies.Approve)]
    public IActionResult OnPostRefuse(int writeOff) => Step(() => balances.Refuse(writeOff, By), "The write-off is refused.");

    private RedirectToPageResult Step(Action step, string done)
    {
        step();
        Done = done;
        return RedirectToPage(new { writeOff = (string?)null, handler = "" });
    }
}
