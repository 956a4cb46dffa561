using EvenSplit.Books;
using EvenSplit.Books.Importing;
using EvenSplit.Books.Own;
using EvenSplit.Core;
using EvenSplit.Web.Doors;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>A payee's codes and links, and what they led to.</summary>
public sealed class OwnLinksPage(ClickReport clicks, Materials materials, BookClock clock, BookCache cache) : OwnPage(cache)
{
    /// <summary>The page of the shop, as /p/print-fox.</summary>
    [BindProperty(SupportsGet = true)]
    public string To { get; set; } = "/";

    [BindProperty(SupportsGet = true)]
    public string Month { get; set; } = "";

    public string? Link { get; private set; }

    public IReadOnlyList<string> Codes { get; private set; } = [];

    public IReadOnlyList<ClickRow> Rows { get; private set; } = [];

    public IReadOnlyList<ClickDay> Days { get; private set; } = [];

    public Period Shown { get; private set; }

    /// <summary>Texts and pictures to use, with the link above put in.</summary>
    public IReadOnlyList<OwnMaterial> Offered { get; private set; } = [];

    public IActionResult OnGetPicture(int id) => materials.Picture(PayeeId, id) is { } picture ? File(picture.Content, picture.Type) : NotFound();

    public void OnGet()
    {
        Codes = [.. Book.Rules.Payee(new PayeeId(PayeeId)).Codes.Where(c => (c.From is null || c.From <= clock.Today) && (c.To is null || c.To > clock.Today)).Select(c => c.Text).Distinct(StringComparer.OrdinalIgnoreCase)];
        if (GoLinks.Page(To) is { } page) Link = $"{Site}/go/{Uri.EscapeDataString(PayeeId)}{(page == "/" ? "" : $"?to={Uri.EscapeDataString(page)}")}";
        else ModelState.AddModelError("To", "Give a page of the shop, beginning with /.");
        Offered = materials.Of(PayeeId, Link ?? "", Codes.FirstOrDefault() ?? "");
        Shown = Core.Period.TryParse(Month, out var month) ? month : Core.Period.Of(clock.Today);
        (Rows, Days) = (clicks.Find(Shown, PayeeId), clicks.Days(Shown, PayeeId));
    }
}
