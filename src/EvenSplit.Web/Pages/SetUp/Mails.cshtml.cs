using System.ComponentModel.DataAnnotations;
using EvenSplit.Books.Mail;
using EvenSplit.Books.Model;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>What the mails say that the application writes by itself, shown as a payee would read them before they are kept.</summary>
public sealed class MailsPage(MailTemplates templates) : BookPage
{
    [BindProperty(SupportsGet = true)]
    public MailKind Kind { get; set; }

    [BindProperty]
    public string Subject { get; set; } = "";

    [BindProperty, StringLength(20_000)]
    public string Text { get; set; } = "";

    internal override string? About => $"mail:{Kind}";

    public string FilledSubject => MailTemplates.Fill(Subject, Example);

    public string FilledText => MailTemplates.Fill(Text, Example);

    /// <summary>With the first payee of the book in the fields.</summary>
    private Dictionary<string, string> Example
    {
        get
        {
            var payee = Book.Rules.Payees.FirstOrDefault(p => p.Codes.Count > 0) ?? Book.Rules.Payees.FirstOrDefault();
            return new()
            {
                ["name"] = payee is null ? "Fern Hollow" : Book.PayeeName(payee.Id.Value),
                ["book"] = Book.Record.Name,
                ["agreement"] = Book.Rules.Agreements.FirstOrDefault() is { } agreement ? Book.AgreementName(agreement.Id.Value) : "Friends",
                ["code"] = payee?.Codes.Count > 0 ? payee.Codes[0].Text : "FERN",
                ["link"] = $"{Request.Scheme}://{Request.Host}/…",
                ["hold"] = "At first what you earn is held for 60 days after payment.",
                ["gift"] = "",
                ["reason"] = "What whoever decides writes stands here.",
                ["asof"] = "31 Oct 2026",
                ["payment"] = "€120.00 is on its way.",
                ["change"] = "from 5 Nov 2026 your payments go to IE…3000: it was confirmed on 3 Nov 2026.",
                ["from"] = "1 Nov 2026",
                ["question"] = "What is asked stands here.",
            };
        }
    }

    public void OnGet() => (Subject, Text) = templates.Of(Kind);

    /// <summary>As it would read; nothing is kept.</summary>
    public void OnPostTry()
    {
    }

    [Overwrites]
    public IActionResult OnPost() => Answer(templates.Save(Kind, Subject, Text, By), "That is how it reads from now on.");

    [Overwrites]
    public IActionResult OnPostBack()
    {
        templates.PutBack(Kind, By);
        Done = "It reads as it did at first.";
        return RedirectToPage(new { kind = Kind, handler = "" });
    }

    public static string Words(MailKind kind) => kind switch
    {
        MailKind.Confirm => "confirm the address",
        MailKind.Welcome => "welcome",
        MailKind.Declined => "declined",
        MailKind.AskedBack => "asked back",
        MailKind.Advice => "statement",
        MailKind.DetailsChanged => "details changed",
        MailKind.NewVersion => "new version",
        _ => "invitation",
    };
}
