using System.ComponentModel.DataAnnotations;
using EvenSplit.Books;
using EvenSplit.Books.Catalogue;
using EvenSplit.Books.Joining;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>Those who ask to take part, and what is decided; new people until they have their record.</summary>
public sealed class ApplicationsPage(ApplicationQueue queue, ApplicationDecisions decisions, NewPeople newPeople, OfferPaths paths) : BookPage
{
    [BindProperty(SupportsGet = true)]
    public QueueShows Shows { get; set; }

    [BindProperty(SupportsGet = true)]
    public int? After { get; set; }

    /// <summary>The one that is opened.</summary>
    [BindProperty(SupportsGet = true)]
    public int? Open { get; set; }

    [BindProperty]
    public List<int> Marked { get; set; } = [];

    [BindProperty, StringLength(2000)]
    public string Reason { get; set; } = "";

    [BindProperty]
    public ApprovalFor For { get; set; }

    [BindProperty]
    public List<string> Products { get; set; } = [];

    [BindProperty]
    public string OfferPath { get; set; } = "";

    public IReadOnlyList<ApplicationRow> Rows { get; private set; } = [];

    public int? Next { get; private set; }

    public ApplicationView? Opened { get; private set; }

    public IReadOnlyList<NewPayee> New { get; private set; } = [];

    public int Waiting { get; private set; }

    public int AskedBack { get; private set; }

    public IReadOnlyList<OfferPath> Paths { get; private set; } = [];

    public IEnumerable<(string Id, string Name)> AllProducts => Book.ProductNames.Select(p => (p.Key, p.Value)).OrderBy(p => p.Value, StringComparer.Ordinal);

    private string Site => $"{Request.Scheme}://{Request.Host}";

    public void OnGet() => Show();

    public override void Show()
    {
        (Rows, Next) = queue.Find(Shows, After);
        (Waiting, AskedBack) = (queue.Count(ApplicationState.Waiting), queue.Count(ApplicationState.AskedBack));
        Opened = (Open ?? Rows.FirstOrDefault()?.Id) is { } id ? queue.Open(id) : null;
        New = newPeople.Find();
        Paths = paths.List();
    }

    public IActionResult OnPostApprove()
    {
        var chosen = Chosen();
        decisions.Approve(chosen, new Approval(For, Products, OfferPath), By, Site);
        return Decided($"{MoneyWords.Count(chosen.Count, "person takes", "people take")} part; each has a mail with code and link.");
    }

    public IActionResult OnPostDecline()
    {
        var chosen = Chosen();
        decisions.Decline(chosen, Reason, By);
        return Decided($"{MoneyWords.Count(chosen.Count, "request is", "requests are")} declined; each has a mail with the reason.");
    }

    public IActionResult OnPostAskBack()
    {
        decisions.AskBack(Open ?? throw new RefusedException("Open the request you would like to ask about."), Reason, By, Site);
        return Decided("They are asked by mail; the request waits under asked back.");
    }

    public IActionResult OnPostTrust(string payee, bool doSo)
    {
        decisions.Trust(payee, doSo, By);
        return Decided(doSo ? $"All requests of {Book.PayeeName(payee)} are approved from now on." : $"Requests of {Book.PayeeName(payee)} are looked at again.");
    }

    public IActionResult OnPostEndHold(string payee, string agreement)
    {
        newPeople.End(payee, agreement, By);
        return Decided($"{Book.PayeeName(payee)} is paid as others from now on.");
    }

    /// <summary>Those marked; without a mark the one that is opened.</summary>
    private List<int> Chosen() => Marked.Count > 0 ? Marked : Open is { } open ? [open] : [];

    private RedirectToPageResult Decided(string done)
    {
        Done = done;
        return RedirectToPage(new { shows = Shows, open = (int?)null, after = (int?)null, handler = "" });
    }

    public string Local(DateTimeOffset at) => Book.Local(at);

    public string Address(QueueShows shows, int? open = null, int? after = null) => $"?shows={shows}{(open is { } o ? $"&open={o}" : "")}{(after is { } a ? $"&after={a}" : "")}{(open is null ? "" : "#opened")}";

    public static string Words(QueueShows shows) => shows switch { QueueShows.Waiting => "waiting", QueueShows.AskedBack => "asked back", _ => "decided" };

    public static string Words(ApplicationRow row) => row.State switch { ApplicationState.Approved => $"approved by {row.DecidedBy}", ApplicationState.Declined => $"declined by {row.DecidedBy}", ApplicationState.AskedBack => "asked back", _ => "waits" };
}
