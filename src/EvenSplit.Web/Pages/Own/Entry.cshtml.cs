using EvenSplit.Books;
using EvenSplit.Books.Own;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>How one entry of a payee came about.</summary>
public sealed class OwnEntryPage(OwnTraces traces, BookCache cache) : OwnPage(cache)
{
    public OwnEntry Entry { get; private set; } = null!;

    public IActionResult OnGet(long entry)
    {
        if (traces.Find(PayeeId, entry) is not { } found) return NotFound();
        Entry = found;
        return Page();
    }
}
