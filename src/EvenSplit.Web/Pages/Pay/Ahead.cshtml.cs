using EvenSplit.Books;
using EvenSplit.Books.PayRuns;
using EvenSplit.Core;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>What a run of any date would pay, ahead of today too.</summary>
public sealed class AheadPage(PayRunDesk desk, DueRuns due, BookClock clock) : BookPage
{
    /// <summary>Whether payees with nothing this time have rows of their own.</summary>
    [BindProperty(SupportsGet = true)]
    public bool All { get; set; }

    [BindProperty(SupportsGet = true)]
    public DateOnly? AsOf { get; set; }

    /// <summary>Whose: a schedule as payees.csv has it; empty for everyone.</summary>
    [BindProperty(SupportsGet = true)]
    public string Schedule { get; set; } = "";

    public RunView View { get; private set; } = null!;

    public IReadOnlyList<PayoutSchedule> Schedules { get; private set; } = [];

    public bool IsAhead => View.AsOf > clock.Today;

    public void OnGet()
    {
        var all = due.Find();
        Schedules = [.. all.Select(d => d.Schedule)];
        View = desk.Preview(AsOf ?? Period.LastDay, all.FirstOrDefault(d => d.Schedule.ToString() == Schedule)?.Payees);
    }
}
