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

    /// <summary>Of one payee.</summary>
    public IReadOnlyList<ClickDay> Days { get; private set; } = [];

    public void OnGet() => (Rows, Days) = (report.Find(Period, Payee), Payee.Length > 0 ? report.Days(Period, Payee) : []);
}
