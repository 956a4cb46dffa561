using EvenSplit.Books.Importing;
using EvenSplit.Core;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

public sealed class QuarantinePage(QuarantineDesk desk) : BookPage
{
    private const string CellPrefix = "cell-";

    public IReadOnlyList<WaitingGroup> Groups { get; private set; } = [];

    public int Rows { get; private set; }

    /// <summary>The reason that is shown; empty for any.</summary>
    [BindProperty(SupportsGet = true)]
    public string Why { get; set; } = "";

    public IReadOnlyList<(string Fault, int Rows)> Reasons { get; private set; } = [];

    public void OnGet() => Show();

    public IActionResult OnPostAll()
    {
        var (taken, waiting) = desk.SendAllAgain(Why, By);
        Done = $"{MoneyWords.Count(taken, "order or refund is", "orders and refunds are")} in the book now; {MoneyWords.Count(waiting, "waits", "wait")} still.";
        return RedirectToPage(new { handler = "" });
    }

    public IActionResult OnPostDiscardAll()
    {
        Done = $"{MoneyWords.Count(desk.DiscardAll(Why, By), "order or refund is", "orders and refunds are")} discarded.";
        return RedirectToPage(new { handler = "", why = "" });
    }

    public override void Show()
    {
        (Groups, Reasons) = (desk.Waiting(Why), desk.Reasons());
        Rows = desk.Count();
    }

    /// <summary>What was typed, where something was; else what the file said.</summary>
    public string Cell(WaitingRow row, string column) =>
        Request.HasFormContentType && Request.Form.TryGetValue($"{CellPrefix}{row.Id}-{column}", out var typed) ? typed.ToString() : row.Cells.GetValueOrDefault(column, "");

    public IActionResult OnPost(int importId, string group)
    {
        var taken = desk.SendAgain(importId, group, Corrections(), By);
        Done = taken ? $"{group} is in the book now." : $"{group} still cannot be taken; the reason is beside it.";
        return RedirectToPage();
    }

    public IActionResult OnPostDiscard(int importId, string group)
    {
        desk.Discard(importId, group, By);
        Done = $"The rows of {group} are discarded.";
        return RedirectToPage();
    }

    private Dictionary<long, IReadOnlyDictionary<string, string>> Corrections() => Request.Form
        .Where(field => field.Key.StartsWith(CellPrefix, StringComparison.Ordinal))
        .Select(field => (Parts: field.Key.Split('-', 3), Value: field.Value.ToString()))
        .Where(field => field.Parts.Length == 3 && long.TryParse(field.Parts[1], out _))
        .GroupBy(field => long.Parse(field.Parts[1], System.Globalization.CultureInfo.InvariantCulture))
        .ToDictionary(row => row.Key, row => (IReadOnlyDictionary<string, string>)row.ToDictionary(f => f.Parts[2], f => f.Value));
}
