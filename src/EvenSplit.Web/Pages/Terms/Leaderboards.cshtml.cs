using EvenSplit.Books.Terms;
using EvenSplit.Core;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>Leaderboards of campaigns, and who stands where.</summary>
public sealed class LeaderboardsPage(Leaderboards leaderboards, AgreementDesk agreements) : BookPage
{
    [BindProperty]
    public LeaderboardDraft Draft { get; set; } = new();

    public IReadOnlyList<LeaderboardView> Boards { get; private set; } = [];

    public IReadOnlyList<AgreementSummary> Agreements { get; private set; } = [];

    public Currency Currency => Book.Currency;

    public string Local(DateTimeOffset at) => Book.Local(at);

    public void OnGet()
    {
        Draft = Draft with { From = Period.FirstDay, To = Period.LastDay };
        Show();
    }

    public override void Show() => (Boards, Agreements) = (leaderboards.List(), agreements.List());

    public IActionResult OnPost()
    {
        ModelState.Clear();
        return Answer(leaderboards.Open(Draft, By), $"{Draft.Name} is open; its places are being worked out.");
    }

    public IActionResult OnPostTakeAway(int board)
    {
        leaderboards.TakeAway(board, By);
        Done = "The leaderboard is taken away.";
        return RedirectToPage(new { handler = "" });
    }
}
