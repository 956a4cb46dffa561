using EvenSplit.Books;
using EvenSplit.Books.Own;
using EvenSplit.Books.PayRuns;
using EvenSplit.Core;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

public sealed class PayPage(PayRunDesk desk, PayRunSteps steps, DueRuns due, PaymentRequests requests, BookClock clock) : BookPage
{
    [BindProperty]
    public DateOnly? AsOf { get; set; }

    /// <summary>The one payee it is for; empty for everyone.</summary>
    [BindProperty(Name = "For")]
    public string For { get; set; } = "";

    public IReadOnlyList<RunSummary> Runs { get; private set; } = [];

    /// <summary>Of all payments, each a column of its own; none where nothing was paid yet.</summary>
    public IReadOnlyList<Currency> Currencies { get; private set; } = [];

    public IReadOnlyList<DueRun> Due { get; private set; } = [];

    /// <summary>Payees who ask to be paid.</summary>
    public IReadOnlyList<WaitingRequest> Requests { get; private set; } = [];

    public string Local(DateTimeOffset at) => Book.Local(at);

    public IEnumerable<(string Id, string Name)> Payees => Book.PayeeNames.Select(p => (p.Key, p.Value)).OrderBy(p => p.Value, StringComparer.Ordinal);

    public void OnGet()
    {
        // A run as of a day that lies ahead is refused.
        AsOf = Period.LastDay > clock.Today ? clock.Today : Period.LastDay;
        Show();
    }

    public override void Show()
    {
        Runs = desk.List();
        Currencies = [.. Runs.SelectMany(r => r.Paid).Select(m => m.Currency).Distinct().OrderBy(c => c.Code, StringComparer.Ordinal)];
        Due = due.Find();
        Requests = requests.Waiting();
    }

    public IActionResult OnPost()
    {
        if (AsOf is not { } asOf) throw new RefusedException("Give the date.", "AsOf");
        return Redirect($"/{Period}/pay/{steps.Gather(asOf, For.Length == 0 ? null : [For], By)}");
    }

    /// <summary>Gathers a run as of today for those who ask.</summary>
    public IActionResult OnPostRequests()
    {
        var waiting = requests.Waiting();
        if (waiting.Count == 0) throw new RefusedException("Nobody asks to be paid any more.");
        return Redirect($"/{Period}/pay/{steps.Gather(clock.Today, [.. waiting.Select(w => w.Payee).Distinct()], By)}");
    }

    public IActionResult OnPostDue(string schedule)
    {
        if (due.Find() is var all && all.FirstOrDefault(d => d.IsDue && d.Schedule.ToString() == schedule) is not { AsOf: { } asOf } found) throw new RefusedException("That run is not due.");
        return Redirect($"/{Period}/pay/{steps.Gather(asOf, all.Count == 1 ? null : found.Payees, By)}");
    }
}
