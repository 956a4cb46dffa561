using EvenSplit.Books;
using EvenSplit.Books.Importing;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>Adjustments to one or many, and by file.</summary>
public sealed class AdjustmentsPage(EvenSplit.Books.Balances.Adjustments adjustments, FileColumns columns, BookClock clock) : BookPage
{
    [BindProperty]
    public List<string> Payees { get; set; } = [];

    [BindProperty]
    public AdjustmentKind Kind { get; set; }

    [BindProperty]
    public string Amount { get; set; } = "";

    [BindProperty]
    public DateOnly? On { get; set; }

    [BindProperty]
    public string Note { get; set; } = "";

    [BindProperty]
    public new IFormFile? File { get; set; }

    public IReadOnlyList<AdjustmentRecord> Open { get; private set; } = [];

    public IEnumerable<(string Id, string Name)> Everybody => Book.PayeeNames.Select(p => (p.Key, p.Value)).OrderBy(p => p.Value, StringComparer.Ordinal);

    public void OnGet()
    {
        On = clock.Today;
        Show();
    }

    public override void Show() => Open = adjustments.Open();

    internal static string Added(int added, int known) => $"{MoneyWords.Count(added, "adjustment")} added{(known > 0 ? $", {known} known already" : "")}.";

    public string NameOf(string payee) => Book.PayeeName(payee);

    public IActionResult OnPostMany()
    {
        if (Kind is not (AdjustmentKind.Bonus or AdjustmentKind.Recharge or AdjustmentKind.Correction)) throw new RefusedException("Choose a bonus, a recharge or a correction.", "Kind");
        adjustments.AddToMany(Payees, On ?? throw new RefusedException("Give the day.", "On"), Amount, Kind, Note, By);
        Done = $"{MoneyWords.Count(Payees.Count, "adjustment")} added; the next run takes {(Payees.Count == 1 ? "it" : "them")}.";
        return RedirectToPage();
    }

    public async Task<IActionResult> OnPostFileAsync(CancellationToken cancellation)
    {
        if (File is null || File.Length == 0) throw new RefusedException("Choose a file that is not empty.", "File");
        return await ShowColumnsAsync(columns, File, ImportKind.Adjustments, cancellation);
    }

    public IActionResult OnPostTakeBack(int adjustment)
    {
        adjustments.TakeBack(adjustment, By);
        Done = "The adjustment is taken back.";
        return RedirectToPage();
    }
}
