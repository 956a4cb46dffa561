using EvenSplit.Books.Auditing;
using EvenSplit.Books.Model;
using EvenSplit.Books.Proofs;
using EvenSplit.Books.Reconcile;
using EvenSplit.Core;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace EvenSplit.Web.Pages;

/// <summary>A check in one currency, payees together.</summary>
/// <param name="Currency">Null where it counts.</param>
/// <param name="Failing">The payees, or other parts, for which it does not hold.</param>
public sealed record ProofRow(string Check, Currency? Currency, long Left, long Right, int Of, IReadOnlyList<ProofLine> Failing);

/// <summary>The proof of a month: a line per check with both figures, and the way to what is behind it.</summary>
public sealed class ProofPage(MonthProof proof, MonthClosing closing, FindMatches matches, AuditFolder folder) : BookPage
{
    internal override string? About => $"month:{Period}";

    /// <summary>How the month stands; null where it is open.</summary>
    public MonthCloseRecord? Standing { get; private set; }

    public IReadOnlyList<CloseBlock> Blocks { get; private set; } = [];

    public IReadOnlyList<CameLater> CameAfter { get; private set; } = [];

    public IReadOnlyList<MonthCloseRecord> History { get; private set; } = [];

    [BindProperty]
    public string Reason { get; set; } = "";

    public ProofView Proof { get; private set; } = null!;

    public bool IsBehind { get; private set; }

    public IReadOnlyList<ProofRow> Rows => [.. Proof.Lines.GroupBy(l => (l.Check, l.Currency)).Select(g => new ProofRow(
        g.Key.Check, g.Key.Currency.Length == 0 ? null : Currency.Of(g.Key.Currency), g.Sum(l => l.Left), g.Sum(l => l.Right), g.Count(l => l.Payee.Length > 0), [.. g.Where(l => !l.Holds)]))];

    public void OnGet() => Show();

    public override void Show()
    {
        (Proof, IsBehind) = (proof.Of(Period), matches.IsWaiting);
        (Standing, History, CameAfter) = (closing.Standing(Period), closing.History(Period), closing.CameAfter(Period));
        Blocks = Standing is null ? closing.Blocks(Period, Proof) : [];
    }

    public IActionResult OnPostClose() => Take(() => closing.Close(Period, By), $"{Period.Name} is closed once somebody else confirms it.");

    public IActionResult OnPostWithdraw() => Take(() => closing.Withdraw(Period, By), "It is not closed.");

    [WriteBy(Policies.Approve), AskAgain]
    public IActionResult OnPostConfirm() => Take(() => closing.Confirm(Period, By), $"{Period.Name} is closed.");

    public IActionResult OnPostOpen() => Take(() => closing.AskToOpen(Period, Reason, By), $"{Period.Name} is open again once somebody else confirms it.");

    [WriteBy(Policies.Approve), AskAgain]
    public IActionResult OnPostConfirmOpening() => Take(() => closing.ConfirmOpening(Period, By), $"{Period.Name} is open again.");

    private RedirectToPageResult Take(Action take, string done)
    {
        take();
        Done = done;
        return RedirectToPage();
    }

    public IActionResult OnGetCsv() => new TextDownload($"proof-{Period}.csv", "text/csv", text => MonthProof.Write(proof.Of(Period), text));

    /// <summary>The auditor's folder of some months.</summary>
    /// <param name="from">The first month and the last.</param>
    public IActionResult OnGetAudit(Period? from, Period? to)
    {
        if (from is not { } first) return Wrong("From", $"Give the first month. {WrittenMonth.HowTo}");
        if (to is not { } last) return Wrong("To", $"Give the last month. {WrittenMonth.HowTo}");
        return last.Number < first.Number ? Wrong("To", "The last month is before the first.") : new FileDownload($"audit-{first}-{last}.zip", "application/zip", zip => folder.Write(first, last, zip));
    }

    private PageResult Wrong(string field, string words)
    {
        // In place of what the reader of the month says itself.
        ModelState.Remove(field);
        ModelState.AddModelError(field, words);
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        Show();
        return Page();
    }

    public string Local(DateTimeOffset at) => Book.Local(at);

    public string NameOf(string payee) => Book.PayeeName(payee);

    /// <summary>Where what is behind a check is seen.</summary>
    public string LinkTo(string check) => $"/{Period}/" + check switch
    {
        ProofChecks.Earnings or ProofChecks.Opening => "people",
        ProofChecks.Sums => "books",
        ProofChecks.WorkedOut => "books/check",
        ProofChecks.Charged => "sales",
        ProofChecks.RunOutcome => "pay/results",
        ProofChecks.Journal => "books/journal",
        ProofChecks.Clearing => "pay/bench",
        ProofChecks.Bank => "pay/bench/bank",
        _ => "pay",
    };

    public static string Figure(ProofRow row, long figure) => row.Currency is { } currency ? MoneyWords.Figure(figure, currency) : MoneyWords.Count(figure);
}
