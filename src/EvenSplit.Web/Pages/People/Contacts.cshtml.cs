using EvenSplit.Books.People;
using EvenSplit.Core;
using EvenSplit.Formats;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>Addresses for a mailing, as a list, CSV or cards of an address book.</summary>
public sealed class ContactsPage(Contacts contacts) : BookPage
{
    [BindProperty(SupportsGet = true)]
    public PayeeRole? Role { get; set; }

    [BindProperty(SupportsGet = true)]
    public string Agreement { get; set; } = "";

    /// <summary>A month, as 2026-08.</summary>
    [BindProperty(SupportsGet = true)]
    public string Since { get; set; } = "";

    public IReadOnlyList<Contact> Rows { get; private set; } = [];

    public IEnumerable<(string Id, string Name)> Agreements => Book.Rules.Agreements.Select(a => (a.Id.Value, Book.AgreementName(a.Id.Value))).OrderBy(a => a.Item2, StringComparer.Ordinal);

    private ContactFilter Filter => new(Role, Agreement, Core.Period.TryParse(Since, out var since) ? since : null);

    public void OnGet() => Rows = contacts.Find(Filter);

    public IActionResult OnGetCsv() => new CsvDownload(
        "contacts.csv", ["payee", "name", "email", "role", "agreements", "last_earned"],
        contacts.Find(Filter).Select(c => (string[])[c.Id, c.Name, c.Email, Figures.Words(c.Role), string.Join("; ", c.Agreements), c.LastEarned?.ToString() ?? ""]));

    public IActionResult OnGetCards() => new TextDownload("contacts.vcf", "text/vcard", text => ContactCards.Write(text, contacts.Find(Filter).Select(c => (c.Name, c.Email, c.Agreements))));

    public string Address(string handler) => $"?handler={handler}{(Role is { } role ? $"&role={Figures.Words(role)}" : "")}{(Agreement.Length > 0 ? $"&agreement={Uri.EscapeDataString(Agreement)}" : "")}{(Since.Length > 0 ? $"&since={Uri.EscapeDataString(Since)}" : "")}";
}
