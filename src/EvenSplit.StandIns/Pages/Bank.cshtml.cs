using EvenSplit.StandIns.Bank;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace EvenSplit.StandIns.Pages;

/// <summary>What the bank has done, and its clock.</summary>
public sealed class BankModel(BankCounter counter) : PageModel
{
    public DateOnly Today => counter.Today;

    public IReadOnlyList<Transfer> Transfers => counter.Transfers;

    public IActionResult OnPost()
    {
        counter.NextDay();
        return Redirect("/bank");
    }
}
