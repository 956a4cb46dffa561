using EvenSplit.Books;
using EvenSplit.Books.Importing;
using EvenSplit.Books.Joining;
using EvenSplit.Books.Model;
using EvenSplit.Books.Terms;
using EvenSplit.Core;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

public sealed class AgreementPage(AgreementDesk desk, AskToAccept acceptance, RecalculateOrders recalculations, BookClock clock) : BookPage
{
    [BindProperty(SupportsGet = true)]
    public string Id { get; set; } = "";

    [BindProperty]
    public string Payee { get; set; } = "";

    [BindProperty]
    public DateOnly? From { get; set; }

    /// <summary>What the payee takes part with; none is all.</summary>
    [BindProperty]
    public List<string> Products { get; set; } = [];

    /// <summary>Whose days are changed.</summary>
    [BindProperty]
    public int Membership { get; set; }

    [BindProperty]
    public DateOnly? MemberFrom { get; set; }

    [BindProperty]
    public DateOnly? MemberTo { get; set; }

    [BindProperty]
    public string NewName { get; set; } = "";

    [BindProperty]
    public string Accepting { get; set; } = "";

    [BindProperty]
    public int Version { get; set; }

    [BindProperty]
    public DateOnly? AcceptedOn { get; set; }

    [BindProperty]
    public string AcceptedNote { get; set; } = "";

    public AgreementView View { get; private set; } = null!;

    public RecalculationRecord? Recalculation { get; private set; }

    /// <summary>How many have still to accept what is agreed.</summary>
    public int ToAccept { get; private set; }

    public DateOnly Today => clock.Today;

    public IEnumerable<(string Id, string Name)> Payees => Book.PayeeNames.Select(p => (p.Key, p.Value)).OrderBy(p => p.Value, StringComparer.Ordinal);

    public IEnumerable<(string Id, string Name)> ProductNames => Book.ProductNames.Select(p => (p.Key, p.Value)).OrderBy(p => p.Value, StringComparer.Ordinal);

    internal override string? About => "agreement:" + Id;

    internal override bool IsThere => Book.Rules.FindAgreement(new AgreementId(Id)) is not null;

    public IActionResult OnGet()
    {
        From ??= Period.FirstDay;
        Show();
        return View is null ? NotFound() : Page();
    }

    public override void Show()
    {
        View = desk.Find(Id)!;
        Recalculation = recalculations.Next();
        ToAccept = acceptance.Waiting(Id);
    }

    public IActionResult OnPostOn()
    {
        if (From is not { } from) throw new RefusedException("Say from which day.", "From");
        desk.PutOn(Id, Payee, from, By, Products.Count == 0 ? null : Products);
        Done = $"{Book.PayeeName(Payee)} is on it from {from.InWords()}.";
        return RedirectToPage();
    }

    public IActionResult OnPostOff(int membership, DateOnly? to)
    {
        if (to is not { } end) throw new RefusedException("Say on which day it ends.");
        desk.TakeOff(membership, end, By);
        Done = $"It ends on {end.InWords()}.";
        return RedirectToPage();
    }

    [Overwrites]
    public IActionResult OnPostDays()
    {
        desk.Redate(Membership, MemberFrom, MemberTo, By);
        Done = "That is when they are on it.";
        return RedirectToPage();
    }

    public IActionResult OnPostNever()
    {
        desk.NeverOn(Membership, By);
        Done = "They were never on it then.";
        return RedirectToPage();
    }

    [Overwrites]
    public IActionResult OnPostRename()
    {
        desk.Rename(Id, NewName, By);
        Done = $"It is called {NewName.Trim()}.";
        return RedirectToPage();
    }

    public IActionResult OnPostTakeAway()
    {
        desk.TakeAway(Id, By);
        Done = "The agreement is taken away.";
        return Redirect($"/{Period}/terms");
    }

    public IActionResult OnPostNewAffiliates(bool doSo)
    {
        desk.PutNewAffiliatesOn(Id, doSo, By);
        Done = doSo ? "New affiliates are put on it." : "New affiliates are put on it no longer.";
        return RedirectToPage();
    }

    public IActionResult OnPostWithdraw(int version)
    {
        desk.Withdraw(version, By);
        Done = "The version is withdrawn; the one before it goes on.";
        return RedirectToPage();
    }

    public IActionResult OnPostAsk()
    {
        var (asked, without) = acceptance.Ask(Id, By, $"{Request.Scheme}://{Request.Host}");
        Done = $"{MoneyWords.Count(asked, "mail")} went out{(without > 0 ? $"; {MoneyWords.Count(without, "payee")} without an address" : "")}.";
        return RedirectToPage(new { handler = "" });
    }

    public IActionResult OnPostAccept()
    {
        desk.Accept(Version, Accepting, AcceptedOn, AcceptedNote, By);
        Done = $"It is noted that {Book.PayeeName(Accepting)} accepted it.";
        return RedirectToPage();
    }

    public IActionResult OnPostEnd(DateOnly? to)
    {
        if (to is not { } end) throw new RefusedException("Say on which day it ends.");
        Done = $"It ends on {end.InWords()} for {MoneyWords.Count(desk.End(Id, end, By), "payee")}.";
        return RedirectToPage();
    }
}
