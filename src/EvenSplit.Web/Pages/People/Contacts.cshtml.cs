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

    [BindProperty(SupportsGet = true)]
    public Period? Since { get; set; }

    [BindProperty(SupportsGet = true)]
    public string Language { get; set; } = "";

    public IReadOnlyList<string> KnownLanguages { get; private set; } = [];

    public int Unsubscribed { get; private set; }

    public IReadOnlyList<Contact> Rows { get; private set; } = [];

    public IEnumerable<(string Id, string Name)> Agreements => Book.Rules.Agreements.Select(a => (a.Id.Value, Book.AgreementName(a.Id.Value))).OrderBy(a => a.Item2, StringComparer.Ordinal);

    private ContactFilter Filter => new(Role, Agreement, Since, Language);

    public void OnGet() => (Rows, KnownLanguages, Unsubscribed) = (contacts.Find(Filter), contacts.Languages(), contacts.Unsubscribed());

    public IActionResult OnGetCsv() => new CsvDownload(
        "contacts.csv", ["payee", "name", "email", "role", "language", "agreements", "last_earned"],
        contacts.Find(Filter).Select(c => (string[])[c.Id, c.Name, c.Email, Figures.Words(c.Role), c.Language, string.Join("; ", c.Agreements), c.LastEarned?.ToString() ?? ""]));

    public IActionResult OnGetCards() => new TextDownload("contacts.vcf", "text/vcard", text => ContactCards.Write(text, contacts.Find(Filter).Select(c => (c.Name, c.Email, c.Language, c.Agreements))));

    public string Address(string handler) => $"?handler={handler}{(Role is { } role ? $"&role={Figures.Words(role)}" : "")}{(Agreement.Length > 0 ? $"&agreement={Uri.EscapeDataString(Agreement)}" : "")}{(Since is { } since ? $"&since={since}" : "")}{(Language.Length > 0 ? $"&language={Uri.EscapeDataString(Language)}" : "")}";
}
