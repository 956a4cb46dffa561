using EvenSplit.Books;
using EvenSplit.Books.Model;
using EvenSplit.Books.Payouts;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>Changes of payout details, looked at by a second person.</summary>
public sealed class DetailsPage(PayoutDetails details, AuditLog audit) : BookPage
{
    public IReadOnlyList<PayoutDetailsRecord> Waiting { get; private set; } = [];

    public void OnGet()
    {
        Show();
        // Whoever looks at what money is to go to is on record; nothing is shown where nothing waits.
        if (Waiting.Count > 0) audit.NoteAlone(By, "look at payout details", string.Join(", ", Waiting.Select(d => d.Payee).Distinct()));
    }

    public override void Show() => Waiting = details.Waiting();

    public string NameOf(string payee) => Book.PayeeName(payee);

    public string Local(DateTimeOffset at) => Book.Local(at);

    [WriteBy(Policies.Approve), AskAgain]
    public IActionResult OnPostConfirm([FromForm(Name = "details")] int id)
    {
        details.Confirm(id, By);
        Done = $"Confirmed; a run may use them in {PayoutDetails.DaysToWait} days.";
        return RedirectToPage();
    }

    [WriteBy(Policies.Approve)]
    public IActionResult OnPostRefuse([FromForm(Name = "details")] int id)
    {
        details.Refuse(id, By);
        Done = "Refused; what held before holds on.";
        return RedirectToPage();
    }
}
