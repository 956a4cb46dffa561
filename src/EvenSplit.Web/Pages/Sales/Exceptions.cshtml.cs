using EvenSplit.Books.Exceptions;
using EvenSplit.Books.Model;
using EvenSplit.Books.Reconcile;
using EvenSplit.Core;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>What needs a person, by cause: one repair clears all it caused.</summary>
public sealed class ExceptionsPage(ExceptionQueue queue, Benches benches) : BookPage
{
    [BindProperty]
    public ExceptionCode Code { get; set; }

    [BindProperty]
    public string? Subject { get; set; }

    /// <summary>The cause that was written about.</summary>
    public ExceptionCause Cause => new(Code, Subject ?? "");

    public IReadOnlyList<CauseOfExceptions> Causes { get; private set; } = [];

    public IReadOnlyList<string> Users => queue.People();

    public void OnGet() => Show();

    /// <summary>What was let stand, and why.</summary>
    public IReadOnlyList<(AcceptedExceptionRecord Accepted, string OrderId)> Standing { get; private set; } = [];

    /// <summary>What is open on the benches, by its kind; benches with nothing open are left out.</summary>
    public IReadOnlyList<(Bench Bench, IReadOnlyList<FindingGroup> Groups)> OnBenches { get; private set; } = [];

    public override void Show()
    {
        (Causes, Standing) = (queue.Find(Period), queue.Standing(Period));
        OnBenches = [.. Enum.GetValues<Bench>().Select(b => (Bench: b, Groups: benches.OpenGroups(b, Period))).Where(b => b.Groups.Count > 0)];
    }

    public IActionResult OnPostReopen(string order, ExceptionCode code, string? line, string? payee)
    {
        queue.Reopen(order, code, line ?? "", payee ?? "", By);
        Done = "It is open again.";
        return RedirectToPage(new { handler = "" });
    }

    /// <summary>Where the cause is repaired.</summary>
    public (string Words, string Link)? Repair(CauseOfExceptions cause)
    {
        var subject = Uri.EscapeDataString(cause.Cause.Subject);
        return cause.Cause.Code switch
        {
            ExceptionCode.FeeMissing => ("Give the processor a schedule", $"/{Period}/sales/fees?processor={subject}"),
            ExceptionCode.RateMissing => ("Bring in the rates", $"/{Period}/sales/fees#rates"),
            ExceptionCode.OverCommitted => ("See who shares in the product", $"/{Period}/terms/products/{subject}"),
            ExceptionCode.PriceOffPlan => ("See the product and its plan", $"/{Period}/terms/products/{subject}"),
            ExceptionCode.SelfReferral or ExceptionCode.PayeeInactive or ExceptionCode.CodeWithoutEffect => ("See the payee", $"/{Period}/people/{subject}"),
            _ => null,
        };
    }

    public IActionResult OnPostAccept(string? order, string? reason)
    {
        Done = $"{MoneyWords.Count(queue.Accept(Period, Cause, order, reason ?? "", By), "exception")} may stand.";
        return RedirectToPage();
    }

    public IActionResult OnPostNote(string? comment, string? assignTo)
    {
        queue.Note(Cause, comment ?? "", assignTo ?? "", By);
        Done = "It is noted.";
        return RedirectToPage();
    }

    public static string Words(ExceptionCode code) => code switch
    {
        ExceptionCode.FeeMissing => "no fee schedule",
        ExceptionCode.RateMissing => "an exchange rate is missing",
        ExceptionCode.OverCommitted => "more is given away than came in",
        ExceptionCode.PriceOffPlan => "sold off its plan",
        ExceptionCode.SelfReferral => "their own order",
        ExceptionCode.PayeeInactive => "not active",
        ExceptionCode.CodeWithoutEffect => "a code without effect",
        _ => "a refund beyond its order",
    };

    /// <summary>An instant in the book's zone.</summary>
    public string Local(DateTimeOffset at) => Book.Local(at);
}
