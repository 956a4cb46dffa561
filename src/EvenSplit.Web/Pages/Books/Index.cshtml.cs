using System.Globalization;
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

    public IActionResult OnGetCsv() => new CsvDownload(
        $"entries-{Period}.csv",
        ["posted_on", "order_id", "product", "payee", "agreement", "part", "kind", "clears_on", "run", "amount", "currency"],
        list.All(Filter with { After = null }).Select(e => (IReadOnlyList<string>)
        [
            CsvDownload.Date(e.PostedOn), e.OrderId, e.Product, e.PayeeId, e.Agreement, e.Part.ToString().ToLowerInvariant(), e.IsReversal ? "reversal" : "earning",
            e.ClearsOn is { } clears ? CsvDownload.Date(clears) : "", e.RunId?.ToString(CultureInfo.InvariantCulture) ?? "", e.Amount.ToMajorText(), e.Amount.Currency.Code,
        ]));

    public string Address(string? handler, (DateOnly PostedOn, long Id)? after = null) => QueryHelpers.AddQueryString($"/{Period}/books", new Dictionary<string, string?>
    {
        ["handler"] = handler,
        ["kind"] = Kind == EntryKindFilter.Any ? null : Kind.ToString().ToLowerInvariant(),
        ["role"] = Role is { } role ? Figures.Words(role) : null,
        ["after"] = after is { } a ? EntriesView.WriteAfter(a) : null,
    }.Where(v => v.Value is not null));
}
