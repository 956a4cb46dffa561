using EvenSplit.Books;
using EvenSplit.Books.Model;
using EvenSplit.Books.Terms;
using EvenSplit.Core;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>Targets, and who has reached them.</summary>
public sealed class TargetsPage(Targets targets, AgreementDesk agreements, BookClock clock) : BookPage
{
    [BindProperty]
    public TargetDraft Draft { get; set; } = new();

    public IReadOnlyList<TargetView> Targets { get; private set; } = [];

    public IReadOnlyList<ReachedView> Reached { get; private set; } = [];

    public IReadOnlyList<AgreementSummary> Agreements { get; private set; } = [];

    public IReadOnlyList<(DateOnly On, string Run)> BonusDays { get; private set; } = [];

    public int Waiting => Reached.Count(r => r.State == ReachedState.Proposed);

    public DateOnly Today => clock.Today;

    public void OnGet()
    {
        Draft = Draft with { From = Period.FirstDay };
        Show();
    }

    public override void Show()
    {
        Targets = targets.List();
        Reached = targets.Reached();
        BonusDays = targets.BonusDays();
        Agreements = agreements.List();
    }

    public IActionResult OnPost()
    {
        ModelState.Clear();
        return Answer(targets.Add(Draft, By), $"{Draft.Name} is set; the orders of its payees are being counted.");
    }

    public IActionResult OnPostEnd(int target, DateOnly? to)
    {
        if (to is not { } end) throw new RefusedException("Say on which day it ends.");
        targets.End(target, end, By);
        Done = $"It can be reached until {end.AddDays(-1).InWords()}.";
        return RedirectToPage();
    }

    public IActionResult OnPostUndo(int reached)
    {
        targets.Undo(reached, By);
        Done = "It is to be decided again.";
        return RedirectToPage();
    }

    public IActionResult OnPostTakeAway(int target)
    {
        targets.TakeAway(target, By);
        Done = "The target is taken away.";
        return RedirectToPage();
    }

    public IActionResult OnPostTake(int reached, DateOnly? on)
    {
        targets.Take(reached, By, on);
        Done = on is { } day ? $"It is given, dated {day.InWords()}." : "It is given; the next run takes it.";
        return RedirectToPage();
    }

    public IActionResult OnPostDecline(int reached, string? reason)
    {
        targets.Decline(reached, reason ?? "", By);
        Done = "It is declined.";
        return RedirectToPage();
    }
}
