using EvenSplit.Books.Backups;
using EvenSplit.Books.Keeping;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>What the book asks of who signs in, what it keeps and for how long, its backups, and buyers made unknown.</summary>
public sealed class SafetyPage(BookSafety safety, UnknownBuyers buyers, BookBackup backup, Nights nights) : BookPage
{
    internal override string? About => "book:1";

    [BindProperty]
    public bool AsksSecondFactor { get; set; }

    [BindProperty]
    public int? ClicksMonths { get; set; }

    [BindProperty]
    public int? EventsMonths { get; set; }

    /// <summary>What the shop knows a buyer by.</summary>
    [BindProperty]
    public string Buyer { get; set; } = "";

    /// <summary>Where the buyer is named, once it was asked.</summary>
    public BuyerTraces? Traces { get; private set; }

    public bool WorksAlone => Book.Record.WorksAlone;

    public DateTimeOffset? LastBackup { get; private set; }

    public BackupPlan? Plan => nights.Plan;

    public int BackupsKept => Plan is null ? 0 : BackupSchedule.Kept(Plan).Count;

    public void OnGet()
    {
        (AsksSecondFactor, ClicksMonths, EventsMonths) = safety.Choices;
        Show();
    }

    public override void Show() => LastBackup = backup.Last();

    public string Local(DateTimeOffset at) => Book.Local(at);

    [AskAgain]
    [Overwrites]
    public IActionResult OnPost()
    {
        if (Unreadable() is { Length: > 0 } faults) return Answer(faults, "");
        safety.Save(new SafetyChoices(AsksSecondFactor, ClicksMonths, EventsMonths), By);
        return Answer([], "Kept.");
    }

    public IActionResult OnPostFind()
    {
        Traces = buyers.Find(Buyer = Buyer.Trim());
        (AsksSecondFactor, ClicksMonths, EventsMonths) = safety.Choices;
        Show();
        return Page();
    }

    [AskAgain]
    public IActionResult OnPostForget()
    {
        var replacement = buyers.Forget(Buyer.Trim(), By);
        Done = $"The buyer is unknown from here on, as {replacement}. No figure has moved.";
        return RedirectToPage(new { handler = "" });
    }
}
