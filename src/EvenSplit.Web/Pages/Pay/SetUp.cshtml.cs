using EvenSplit.Books.Model;
using EvenSplit.Books.Payouts;
using EvenSplit.Books.PayRuns;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>The accounts payments leave from, when payees are paid, and the days on which nobody works.</summary>
public sealed class PaySetUpPage(PayingAccounts accounts, DueRuns due) : BookPage
{
    [BindProperty]
    public string AccountCurrency { get; set; } = "";

    [BindProperty]
    public string AccountHolder { get; set; } = "";

    [BindProperty]
    public string AccountIban { get; set; } = "";

    [BindProperty]
    public string AccountBic { get; set; } = "";

    [BindProperty]
    public DateOnly? HolidayOn { get; set; }

    [BindProperty]
    public string HolidayName { get; set; } = "";

    public IReadOnlyList<PayingAccountRecord> Accounts { get; private set; } = [];

    public IReadOnlyList<DueRun> Due { get; private set; } = [];

    public IReadOnlyList<HolidayRecord> Holidays { get; private set; } = [];

    public void OnGet()
    {
        (AccountCurrency, AccountHolder) = (Book.Currency.Code, Book.Record.Name);
        Show();
    }

    public override void Show()
    {
        Accounts = accounts.List();
        Due = due.Find();
        Holidays = due.Holidays();
    }

    internal override string? About => "accounts:all";

    [AskAgain, Overwrites]
    public IActionResult OnPostAccount() => Answer(accounts.Save(AccountCurrency, AccountHolder, AccountIban, AccountBic, By), "The account is kept.");

    public IActionResult OnPostHoliday()
    {
        due.AddHoliday(HolidayOn, HolidayName, By);
        Done = "The holiday is kept.";
        return RedirectToPage();
    }

    public IActionResult OnPostWork(DateOnly on)
    {
        due.RemoveHoliday(on, By);
        Done = "The holiday is off the list.";
        return RedirectToPage();
    }
}
