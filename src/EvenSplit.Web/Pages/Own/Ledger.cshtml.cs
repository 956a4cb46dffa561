using EvenSplit.Books;
using EvenSplit.Books.Ledger;
using EvenSplit.Books.Own;
using EvenSplit.Core;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>Every entry of a payee, the latest first.</summary>
public sealed class OwnLedgerPage(EntryList list, ShownToPayees shown, BookCache cache) : OwnPage(cache)
{
    [BindProperty(SupportsGet = true)]
    public string After { get; set; } = "";

    public EntryPage Entries { get; private set; } = null!;

    public void OnGet()
    {
        var found = list.Find(new EntryFilter(null, null, PayeeId, EntryKindFilter.Any, EntriesView.ReadAfter(After)));
        Entries = found with { Rows = [.. found.Rows.Select(shown.Shown)] };
    }

    public IActionResult OnGetCsv() => new CsvDownload("ledger.csv", EntryTable.Header, EntryTable.Rows(list.All(new EntryFilter(null, null, PayeeId, EntryKindFilter.Any, null)).Select(shown.Shown)));

    /// <summary>Where the money of an entry stands.</summary>
    public static string Standing(EntryRow entry) => entry switch
    {
        { RunId: not null } => "in a payment",
        { IsHeldBack: true } => "held back",
        { ClearsOn: { } on } => $"clears on {on.InWords()}",
        _ => "waits to be looked at",
    };
}
