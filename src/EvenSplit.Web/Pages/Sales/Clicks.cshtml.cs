using EvenSplit.Books.Importing;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>From source page to orders.</summary>
public sealed class ClicksPage(ClickReport report) : BookPage
{
    [BindProperty(SupportsGet = true)]
    public string Payee { get; set; } = "";

    public IReadOnlyList<ClickRow> Rows { get; private set; } = [];

    public IEnumerable<(string Id, string Name)> Payees => Book.PayeeNames.Select(p => (p.Key, p.Value)).OrderBy(p => p.Value, StringComparer.Ordinal);

    public void OnGet() => Rows = report.Find(Period, Payee);
}
