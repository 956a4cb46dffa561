using EvenSplit.Books;
using EvenSplit.Books.Balances;
using EvenSplit.Books.Joining;
using EvenSplit.Books.Keeping;
using EvenSplit.Books.Ledger;
using EvenSplit.Books.Model;
using EvenSplit.Books.Own;
using EvenSplit.Books.Payouts;
using EvenSplit.Books.People;
using EvenSplit.Books.Sales;
using EvenSplit.Books.Terms;
using EvenSplit.Core;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

public sealed class PayeePage(PayeeDesk desk, PayeeCodes codes, EntryList entries, OpenOrder orders, Adjustments adjustments, AgreementDesk agreements, PersonalTerms terms, Standing standing, PayoutDetails details, Advances advances, PersonData data, PayeeFigures figures, PayeeSignIn signIn, AuditLog audit, BookClock clock, ForgottenPayees forgotten, GivenGoods goods) : BookPage
{
    [BindProperty(SupportsGet = true)]
    public string Id { get; set; } = "";

    [BindProperty(SupportsGet = true)]
    public string After { get; set; } = "";

    /// <summary>The entry whose trace is open.</summary>
    [BindProperty(SupportsGet = true)]
    public long? Entry { get; set; }

    public TraceView? Trace { get; private set; }

    [BindProperty]
    public AdjustmentKind AdjustmentKind { get; set; }

    [BindProperty]
    public string Amount { get; set; } = "";

    [BindProperty]
    public DateOnly? On { get; set; }

    [BindProperty]
    public string Note { get; set; } = "";

    [BindProperty]
    public string AdvanceAmount { get; set; } = "";

    [BindProperty]
    public DateOnly? AdvanceOn { get; set; }

    [BindProperty]
    public string AdvanceNote { get; set; } = "";

    [BindProperty]
    public string Code { get; set; } = "";

    /// <summary>The code whose days are changed; 0 where one is added.</summary>
    [BindProperty]
    public int CodeId { get; set; }

    [BindProperty]
    public DateOnly? CodeFrom { get; set; }

    [BindProperty]
    public DateOnly? CodeTo { get; set; }

    [BindProperty]
    public ApprovalDraft Approval { get; set; } = new();

    [BindProperty]
    public PayoutDetailsDraft NewDetails { get; set; } = new();

    /// <summary>Whom they could be paid through.</summary>
    public IEnumerable<(string Id, string Name)> Others => Book.Rules.Payees.Where(p => p.Id.Value != Id && p.PayoutCurrency.Code == View.Record.PayoutCurrency).Select(p => (p.Id.Value, Book.PayeeName(p.Id.Value))).OrderBy(p => p.Item2, StringComparer.Ordinal);

    public IReadOnlyList<AdvanceView> Advances { get; private set; } = [];

    /// <summary>The latest first.</summary>
    public IReadOnlyList<PayoutDetailsRecord> Details { get; private set; } = [];

    public string Schedule => PayoutSchedule.TryParse(View.Record.Schedule, out var schedule) ? schedule.InWords() : View.Record.Schedule;

    public PayeeView View { get; private set; } = null!;

    public EntryPage Ledger { get; private set; } = null!;

    public IReadOnlyList<PersonalTermView> PersonalTerms { get; private set; } = [];

    /// <summary>What they were given as they joined.</summary>
    public IReadOnlyList<(DateOnly On, string Agreement, string What, Money Cost)> Goods { get; private set; } = [];

    public IReadOnlyList<LadderStanding> Ladders { get; private set; } = [];

    public DateOnly Today => clock.Today;

    public KnownFigures Known { get; private set; } = null!;

    /// <summary>What of theirs waits for somebody.</summary>
    public IReadOnlyList<PayeeWait> Waits { get; private set; } = [];

    public string NameOf(string payee) => Book.PayeeName(payee);

    /// <summary>The catalogue, by name.</summary>
    public IEnumerable<(string Id, string Name)> Products => Book.ProductNames.Select(p => (p.Key, p.Value)).OrderBy(p => p.Value, StringComparer.Ordinal);

    /// <summary>What somebody takes part with, in words.</summary>
    public string ApprovedFor(PayeeMembership membership) =>
        membership.Products is null ? "all products" : membership.Products.Count == 0 ? "no product" : string.Join(", ", membership.Products.Select(Book.ProductName));

    /// <summary>What the form under one of the agreements says: as it was typed where it was refused, else as it holds from today.</summary>
    public ApprovalDraft DraftFor(PayeeMembership membership) => Approval.Membership == membership.Id
        ? Approval
        : new() { Membership = membership.Id, From = membership.From > Today ? membership.From : Today, All = membership.Products is null, Products = [.. membership.Products ?? []] };

    public IActionResult OnPostApprove()
    {
        if (Approval.From is not { } from) throw new RefusedException("Say from which day.", "ApprovedFrom");
        agreements.ApproveFor(Approval.Membership, Approval.All ? null : Approval.Products, from, By);
        Done = $"That holds from {from.InWords()}; the orders it touches are being worked out again.";
        return RedirectToPage();
    }

    /// <summary>Mails them a link to their own pages.</summary>
    public IActionResult OnPostInvite()
    {
        signIn.Invite(Id, By, $"{Request.Scheme}://{Request.Host}");
        Done = "A link to their own pages is mailed; it opens once, within seven days.";
        return RedirectToPage(new { handler = "" });
    }

    /// <summary>Why they cannot be forgotten yet; null where they can.</summary>
    public string? KeptBecause { get; private set; }

    public IActionResult OnPostForget()
    {
        forgotten.Forget(Id, By);
        Done = "What need not be kept of them is gone.";
        return RedirectToPage(new { handler = "" });
    }

    /// <summary>Shows their own pages as they see them.</summary>
    public async Task<IActionResult> OnPostSeeAsync()
    {
        audit.NoteAlone(By, "see as they do", Id);
        await PayeeCookie.StartSeenByAsync(HttpContext, Id, By);
        return LocalRedirect("/me");
    }

    internal override string? About => "payee:" + Id;

    internal override bool IsThere => Book.Rules.FindPayee(new PayeeId(Id)) is not null;

    public IActionResult OnGet()
    {
        (On, AdvanceOn) = (clock.Today, clock.Today);
        if (!IsThere) return NotFound();
        Show();
        return Page();
    }

    public override void Show()
    {
        View = desk.Find(Id)!;
        (Known, Waits) = (figures.Of(Id), figures.Waits(Id));
        PersonalTerms = terms.OfPayee(Id);
        Ladders = standing.Of(Id);
        Goods = goods.Of(Id);
        KeptBecause = forgotten.Refusal(Id);
        Advances = advances.Of(Id);
        Details = details.Of(Id);
        Ledger = entries.Find(new EntryFilter(null, null, Id, EntryKindFilter.Any, EntriesView.ReadAfter(After)));
        var opened = Entry is { } id ? Ledger.Rows.FirstOrDefault(r => r.Id == id) : null;
        var entry = opened is null ? null : orders.Find(opened.OrderId)?.Entries.FirstOrDefault(e => e.Id == opened.Id);
        Trace = entry is null ? null : new TraceView(Period, opened!.OrderId, entry, $"/{Period}/people/{Id}{(After.Length > 0 ? "?after=" + After : "")}", ShowOrder: true);
    }

    public IActionResult OnPostAdjust()
    {
        if (desk.Find(Id) is not { } view) return NotFound();
        adjustments.Add(Id, On ?? clock.Today, Amount, view.Record.PayoutCurrency, AdjustmentKind, Note, By);
        Done = "The adjustment is added; the next run takes it.";
        return RedirectToPage();
    }

    public IActionResult OnPostCode()
    {
        codes.Add(Id, Code, CodeFrom, CodeTo, By);
        Done = $"{Code.Trim()} is theirs.";
        return RedirectToPage();
    }

    [Overwrites]
    public IActionResult OnPostCodeDays()
    {
        codes.Redate(CodeId, CodeFrom, CodeTo, By);
        Done = "The code counts on these days.";
        return RedirectToPage();
    }

    public IActionResult OnPostCodeAway()
    {
        codes.TakeAway(CodeId, By);
        Done = "The code is taken away.";
        return RedirectToPage();
    }

    public IActionResult OnPostTakeAdvance(int advance)
    {
        advances.TakeAway(advance, By);
        Done = "The advance is taken away.";
        return RedirectToPage();
    }

    public IActionResult OnPostAdvance()
    {
        ModelState.Clear();
        return Answer(advances.Add(Id, AdvanceOn, AdvanceAmount, AdvanceNote, By), "The advance is kept; runs take it back out of earnings.");
    }

    /// <summary>Everything the book holds about the payee, as one file for them.</summary>
    public IActionResult OnGetData()
    {
        if (!User.IsInRole(Roles.Lead)) return Forbid();
        using var file = new MemoryStream();
        return data.Write(Id, file, By) ? File(file.ToArray(), "application/json", $"{Id}.json") : NotFound();
    }

    [AskAgain]
    public IActionResult OnPostDetails()
    {
        ModelState.Clear();
        return Answer(details.Propose(Id, NewDetails, By), "The details are proposed; somebody else confirms them under Pay, Payout details.");
    }

    [AskAgain]
    public IActionResult OnPostRight([FromForm(Name = "details")] int id)
    {
        details.SayRight(id, By);
        Done = "The details are used again.";
        return RedirectToPage();
    }

    public IActionResult OnPostEndTerm(int term, DateOnly? to)
    {
        terms.End(term, to ?? clock.Today, By);
        Done = "The personal term ends; the agreement's own hold from then on.";
        return RedirectToPage();
    }

    public IActionResult OnPostTakeBack(int adjustment)
    {
        adjustments.TakeBack(adjustment, By);
        Done = "The adjustment is taken back.";
        return RedirectToPage();
    }
}

/// <summary>With which products a payee takes part under an agreement, from a day on.</summary>
public sealed class ApprovalDraft
{
    public int Membership { get; set; }

    public DateOnly? From { get; set; }

    public bool All { get; set; }

    public List<string> Products { get; set; } = [];
}
