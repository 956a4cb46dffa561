using EvenSplit.Books;
using EvenSplit.Books.Accepting;
using EvenSplit.Books.Joining;
using EvenSplit.Books.Model;
using EvenSplit.Books.People;
using EvenSplit.Books.Terms;
using EvenSplit.Core;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>What a payee takes part in, what of it they have to accept, how far they have come, and what else they may ask for.</summary>
public sealed class OwnAgreementsPage(Applying applying, UnacceptedVersions unaccepted, Standing standing, Targets targets, Leaderboards leaderboards, BookClock clock, BookCache cache) : OwnPage(cache)
{
    /// <summary>One they ask for; empty for the list.</summary>
    [BindProperty(SupportsGet = true)]
    public string Agreement { get; set; } = "";

    [BindProperty]
    public ApplicationFields Fields { get; set; } = new();

    public IReadOnlyList<(string Name, DateOnly From, IReadOnlyList<string> Terms)> On { get; private set; } = [];

    public IReadOnlyList<AgreementVersionRecord> ToAccept { get; private set; } = [];

    public IReadOnlyList<LadderStanding> Steps { get; private set; } = [];

    public IReadOnlyList<TargetStanding> Reaching { get; private set; } = [];

    public IReadOnlyList<OwnLeaderboard> Boards { get; private set; } = [];

    public IReadOnlyList<OpenAgreement> Open { get; private set; } = [];

    public OpenAgreement? Chosen { get; private set; }

    public string NameOf(string agreement) => Book.AgreementName(agreement);

    /// <summary>Without the trade's word for what a share is taken of, which each entry explains.</summary>
    public static string Plain(string term) => term.Replace(" of the share base", "", StringComparison.Ordinal);

    public IActionResult OnGet()
    {
        Show();
        return Agreement.Length > 0 && Chosen is null ? NotFound() : Page();
    }

    public override void Show()
    {
        var (payee, today) = (Book.Rules.Payee(new PayeeId(PayeeId)), clock.Today);
        var on = payee.Memberships.Where(m => m.InForceOn(today)).ToArray();
        On = [.. on.DistinctBy(m => m.Agreement).Select(m => (Book.AgreementName(m.Agreement.Value), m.From, TermsOf(payee, Book.Rules.Agreement(m.Agreement), today)))];
        (ToAccept, Steps, Reaching, Boards) = (unaccepted.Of(PayeeId), standing.Of(PayeeId), targets.Of(PayeeId), leaderboards.Of(PayeeId));
        Open = [.. applying.Open().Where(a => on.All(m => m.Agreement.Value != a.Id))];
        Chosen = Open.FirstOrDefault(a => a.Id == Agreement);
        if (Fields.Name.Length == 0) Fields.Name = PayeeName;
    }

    [WriteBy(Policies.OwnChange)]
    public IActionResult OnPostAccept(int version)
    {
        unaccepted.Accept(version, PayeeId, PayeeName, HttpContext.RequestServices.GetRequiredService<RequestOrigin>().Text);
        Done = "You have accepted it.";
        return RedirectToPage(new { agreement = "", handler = "" });
    }

    [WriteBy(Policies.OwnChange)]
    public IActionResult OnPost()
    {
        var (isIn, faults) = applying.AskAs(PayeeId, Agreement, Fields.ToDraft(), HttpContext.RequestServices.GetRequiredService<RequestOrigin>().Text, Site);
        if (faults.Count == 0)
        {
            Done = isIn ? "You take part in it." : "You have asked. You get a mail once it is decided.";
            return RedirectToPage(new { agreement = "" });
        }
        Refuse(faults);
        Show();
        return Page();
    }

    /// <summary>Their own terms come before those of all.</summary>
    private string[] TermsOf(Payee payee, Agreement agreement, DateOnly today) =>
    [
        .. payee.PersonalTerms.Where(t => t.Agreement == agreement.Id && t.InForceOn(today)).Select(t => $"For you: {TermWords.Term(t.Term, agreement.Currency, Book.Naming())}"),
        .. (agreement.VersionOn(today)?.Terms ?? []).Select(t => TermWords.Term(t, agreement.Currency, Book.Naming())),
    ];
}
