using EvenSplit.Books.Ledger;
using EvenSplit.Core;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.WebUtilities;

namespace EvenSplit.Web.Pages;

public sealed class BooksPage(EntryList list) : BookPage
{
    [BindProperty(SupportsGet = true)]
    public EntryKindFilter Kind { get; set; }

    [BindProperty(SupportsGet = true)]
    public PayeeRole? Role { get; set; }

    [BindProperty(SupportsGet = true)]
    public string After { get; set; } = "";

    public EntryPage Entries { get; private set; } = null!;

    private EntryFilter Filter => new(Period, Role, "", Kind, EntriesView.ReadAfter(After));

    public void OnGet() => Entries = list.Find(Filter);

    public IActionResult OnGetCsv() => new CsvDownload($"entries-{Period}.csv", EntryTable.Header, EntryTable.Rows(list.All(Filter with { After = null })));

    public string Address(string? handler, (DateOnly PostedOn, long Id)? after = null) => QueryHelpers.AddQueryString($"/{Period}/books", new Dictionary<string, string?>
    {
        ["handler"] = handler,
        ["kind"] = Kind == EntryKindFilter.Any ? null : Kind.ToString().ToLowerInvariant(),
        ["role"] = Role is { } role ? Figures.Words(role) : null,
        ["after"] = after is { } a ? EntriesView.WriteAfter(a) : null,
    }.Where(v => v.Value is not null));
}
