using EvenSplit.Books;
using EvenSplit.Books.Bulk;
using EvenSplit.Books.Own;
using EvenSplit.Books.People;
using EvenSplit.Core;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

public sealed class PeoplePage(PeopleList list, BookClock clock, PayeesFile file, ManyPayees many, PayeeSignIn signIn) : BookPage
{
    [BindProperty(SupportsGet = true)]
    public PayeeRole? Role { get; set; }

    /// <summary>Whether everybody is listed.</summary>
    public bool IsWhole => Role is null && Find.Length == 0;

    [BindProperty(SupportsGet = true)]
    public string Find { get; set; } = "";

    public IReadOnlyList<PayeeRow> People { get; private set; } = [];

    public IReadOnlyList<BalanceTotals> Totals { get; private set; } = [];

    public DateOnly Today => clock.Today;

    [BindProperty]
    public List<string> Marked { get; set; } = [];

    [BindProperty]
    public string Agreement { get; set; } = "";

    [BindProperty]
    public DateOnly? From { get; set; }

    [BindProperty]
    public string Schedule { get; set; } = "";

    [BindProperty]
    public bool? OnHold { get; set; }

    [BindProperty]
    public int? HoldDays { get; set; }

    [BindProperty]
    public string Pattern { get; set; } = "";

    [BindProperty]
    public DateOnly? CodesFrom { get; set; }

    [BindProperty]
    public DateOnly? CodesTo { get; set; }

    public IEnumerable<(string Id, string Name)> Agreements => Book.Rules.Agreements.Select(a => (a.Id.Value, Book.AgreementName(a.Id.Value))).OrderBy(a => a.Item2, StringComparer.Ordinal);

    public void OnGet() => Show();

    public override void Show()
    {
        People = list.Find(Role, Find);
        Totals = PeopleList.Totals(People);
    }

    public IActionResult OnPostPutOn()
    {
        many.PutOn(Marked, Agreement, From, By);
        Done = $"{MoneyWords.Count(Marked.Count, "payee is", "payees are")} on {Book.AgreementName(Agreement)} from {From!.Value.InWords()}.";
        return RedirectToPage(new { handler = "" });
    }

    public IActionResult OnPostChange()
    {
        many.Change(Marked, Schedule, OnHold, HoldDays, By);
        Done = $"{MoneyWords.Count(Marked.Count, "payee is", "payees are")} changed.";
        return RedirectToPage(new { handler = "" });
    }

    public IActionResult OnPostCodes()
    {
        var made = many.GiveCodes(Marked, Pattern, CodesFrom, CodesTo, By);
        Done = $"Given: {string.Join(", ", made.Take(10))}{(made.Count > 10 ? $" and {made.Count - 10} more" : "")}.";
        return RedirectToPage(new { handler = "" });
    }

    public IActionResult OnPostLinks()
    {
        var (mailed, without) = signIn.InviteMany(Marked, By, $"{Request.Scheme}://{Request.Host}");
        Done = $"{MoneyWords.Count(mailed, "link")} mailed{(without > 0 ? $"; {MoneyWords.Count(without, "payee")} without an address" : "")}.";
        return RedirectToPage(new { handler = "" });
    }

    public IActionResult OnGetFile()
    {
        var (header, rows) = file.Write();
        return new CsvDownload("payees.csv", header, rows);
    }
}
