using EvenSplit.Books;
using EvenSplit.Books.PayRuns;
using EvenSplit.Core;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

public sealed class RunPage(PayRunDesk desk, PayRunSteps steps, BookClock clock) : BookPage
{
    [BindProperty(SupportsGet = true)]
    public int Id { get; set; }

    public RunView View { get; private set; } = null!;

    public DateOnly Today => clock.Today;

    public IActionResult OnGet()
    {
        if (desk.Find(Id) is not { } run) return NotFound();
        View = run;
        return Page();
    }

    public override void Show() => View = desk.Find(Id)!;

    public IActionResult OnPostLock() => Step(() => steps.Lock(Id, By), "The run is locked. Somebody else can approve it now.");

    [WriteBy(Policies.Approve)]
    public IActionResult OnPostApprove() => Step(() => steps.Approve(Id, By), "The run is approved and can be paid.");

    public IActionResult OnPostPaid(int remittance, DateOnly? paidOn, string reference)
    {
        if (paidOn is not { } on) throw new RefusedException("Give the date the money left.", "PaidOn");
        return Step(() => steps.MarkPaid(Id, remittance, on, reference, By), "Marked paid.");
    }

    public IActionResult OnPostUndo(int remittance) => Step(() => steps.UndoPaid(Id, remittance, By), "The payment is taken back; it can be marked again.");

    public IActionResult OnPostClose() => Step(() => steps.Close(Id, By), "The run is closed.");

    public IActionResult OnPostDiscard()
    {
        steps.Discard(Id, By);
        Done = "The run is discarded; nothing was taken by it.";
        return Redirect($"/{Period}/pay");
    }

    /// <summary>What was typed for a remittance before it was refused.</summary>
    public string? TypedFor(int? remittance, string field) =>
        Request.HasFormContentType && Request.Form["remittance"] == remittance?.ToString(System.Globalization.CultureInfo.InvariantCulture) ? Request.Form[field].ToString() : null;

    /// <summary>What is wrong with what was typed for a remittance.</summary>
    public string? FaultFor(int? remittance) =>
        TypedFor(remittance, "remittance") is null ? null : FaultAt("PaidOn") ?? FaultAt("Reference");

    public static string Words(RemittanceReason reason) => reason switch
    {
        RemittanceReason.Paid => "paid",
        RemittanceReason.Nothing => "nothing due",
        RemittanceReason.Negative => "below nothing: carried",
        RemittanceReason.BelowMinimum => "below the minimum: carried",
        RemittanceReason.OnHold => "payments on hold",
        _ => "waits for an exchange rate",
    };

    private RedirectToPageResult Step(Action step, string done)
    {
        step();
        Done = done;
        return RedirectToPage();
    }
}
