using System.Text;
using EvenSplit.Books;
using EvenSplit.Books.Journal;
using EvenSplit.Books.Model;
using EvenSplit.Books.PayRuns;
using EvenSplit.Core;
using EvenSplit.Web.Documents;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

public sealed class RunPage(PayRunDesk desk, PayRunSteps steps, HandPayments hand, IssueRun issue, RunJournal journal, Advices advices, BookClock clock) : BookPage
{
    /// <summary>Whether payees with nothing this time have rows of their own.</summary>
    [BindProperty(SupportsGet = true)]
    public bool All { get; set; }

    [BindProperty(SupportsGet = true)]
    public int Id { get; set; }

    [BindProperty]
    public List<int> Marked { get; set; } = [];

    [BindProperty]
    public DateOnly? PaidOn { get; set; }

    [BindProperty]
    public string Reference { get; set; } = "";

    [BindProperty]
    public IFormFile? Evidence { get; set; }

    [BindProperty]
    public string Reason { get; set; } = "";

    [BindProperty]
    public string AsideReason { get; set; } = "";

    public RunView View { get; private set; } = null!;

    public IReadOnlyList<Funding> Funding { get; private set; } = [];

    public IReadOnlyList<PaymentFileRecord> Files { get; private set; } = [];

    internal override bool IsThere => desk.Exists(Id);

    public IActionResult OnGet()
    {
        if (!IsThere) return NotFound();
        PaidOn = clock.Today;
        Show();
        return Page();
    }

    public override void Show()
    {
        View = desk.Find(Id)!;
        Funding = issue.FundingOf(Id);
        Files = issue.FilesOf(Id);
    }

    public bool WorksAlone => Book.Record.WorksAlone;

    /// <summary>Whether somebody other than who prepared the run looks at it.</summary>
    public bool IsSecond => IsAnother(View.PreparedBy, View.LockedBy);

    public string Local(DateTimeOffset at) => Book.Local(at);

    public IActionResult OnPostLock() => Step(() => steps.Lock(Id, By), "The run is locked. Somebody else can approve it now.");

    public IActionResult OnPostUnlock() => Step(() => steps.Unlock(Id, Reason, By), "The run is unlocked: it follows what comes in again.");

    [WriteBy(Policies.Approve)]
    public IActionResult OnPostLook(string? payee) => Step(() => steps.LookAt(Id, payee, By), "Looked at.");

    [WriteBy(Policies.Approve), AskAgain]
    public IActionResult OnPostApprove(string? sums) => Step(() => steps.Approve(Id, sums ?? "", By), "The run is approved and can be paid.");

    public IActionResult OnPostAside(int remittance) => Step(() => steps.SetAside(Id, remittance, AsideReason, By), "The payment is set aside and owed again; the run is to be approved.");

    [AskAgain]
    public IActionResult OnPostIssue()
    {
        var sent = issue.Issue(Id, By);
        Done = $"{MoneyWords.Count(sent, "payment")} issued; what is paid by hand is to be marked.";
        return RedirectToPage();
    }

    public async Task<IActionResult> OnPostPaidAsync(CancellationToken cancellation)
    {
        if (PaidOn is not { } on) throw new RefusedException("Give the date the money left.", "PaidOn");
        string? evidence = null;
        if (Evidence is { Length: > 0 } file)
        {
            if (file.Length > HandPayments.MostEvidenceBytes) throw new RefusedException($"The file may have {HandPayments.MostEvidenceBytes / 1024 / 1024} MB.", "Evidence");
            await using var content = file.OpenReadStream();
            evidence = await hand.KeepEvidenceAsync(file.FileName, content, cancellation);
        }
        return Step(() => hand.MarkPaid(Id, Marked, on, Reference, evidence, By), Marked.Count == 1 ? "Marked paid." : $"{MoneyWords.Count(Marked.Count, "payment")} marked paid.");
    }

    public IActionResult OnPostUndo(int remittance) => Step(() => hand.Undo(Id, remittance, By), "The payment is taken back; it can be marked again.");

    [BindProperty]
    public string BackReason { get; set; } = "";

    public IActionResult OnPostBack(int remittance) => Step(() => hand.CameBack(Id, remittance, BackReason, By), "It is noted; once somebody else has confirmed it under Results, it is owed again.");

    public IActionResult OnPostClose() => Step(() => steps.Close(Id, By), "The run is closed.");

    public IActionResult OnPostDiscard()
    {
        steps.Discard(Id, By);
        Done = "The run is discarded; nothing was taken by it.";
        return Redirect($"/{Period}/pay");
    }

    public IActionResult OnPostMail()
    {
        var (sent, without, faults) = advices.Mail(Id, By);
        Done = $"{MoneyWords.Count(sent, "advice")} mailed{(without > 0 ? $"; {MoneyWords.Count(without, "payee")} without an address" : "")}.{(faults.Count > 0 ? $" Not mailed: {string.Join(" ", faults)}" : "")}";
        return RedirectToPage();
    }

    /// <summary>A payment file holds account numbers: it is the lead's.</summary>
    public IActionResult OnGetFile(int file) =>
        !User.IsInRole(Roles.Lead) ? Forbid() : issue.File(Id, file) is { } found ? File(Encoding.UTF8.GetBytes(found.Content), "application/octet-stream", found.Name) : NotFound();

    public IActionResult OnGetEvidence(int remittance) =>
        hand.EvidencePath(Id, remittance) is { } path && System.IO.File.Exists(path) ? PhysicalFile(path, "application/octet-stream", Path.GetFileName(path)) : NotFound();

    public IActionResult OnGetJournal() =>
        journal.Write(Id) is { } text ? File(Encoding.UTF8.GetBytes(text), "text/plain; charset=utf-8", $"run-{Id}.journal") : NotFound();

    public IActionResult OnGetAdvices() =>
        desk.Find(Id) is { State: not RunState.Gathering } ? File(advices.Archive(Id), "application/zip", $"advices-{Id}.zip") : NotFound();

    public static string Words(RemittanceReason reason) => reason switch
    {
        RemittanceReason.Paid => "paid",
        RemittanceReason.Nothing => "nothing due",
        RemittanceReason.Negative => "below nothing",
        RemittanceReason.BelowMinimum => "below the minimum",
        RemittanceReason.OnHold => "payments on hold",
        _ => "waits for an exchange rate",
    };

    public static string Words(PayoutMethod method) => method switch
    {
        PayoutMethod.Bank => "bank",
        PayoutMethod.Wallet => "wallet",
        PayoutMethod.StoreCredit => "store credit",
        PayoutMethod.Through => "through another payee",
        _ => "by hand",
    };

    public static string Words(RunMark mark) => mark switch
    {
        RunMark.Jump => "jump",
        RunMark.FirstPayment => "first payment",
        RunMark.NewDetails => "new details",
        RunMark.RefundRate => "refunds",
        RunMark.NoTaxForm => "no tax form",
        RunMark.NoDetails => "no details",
        RunMark.OwedAgain => "owed again",
        _ => "came back",
    };

    private RedirectToPageResult Step(Action step, string done)
    {
        step();
        Done = done;
        return RedirectToPage(new { handler = "" });
    }
}
