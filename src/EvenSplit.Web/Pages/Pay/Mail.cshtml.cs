using EvenSplit.Books.Mail;
using EvenSplit.Books.Model;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>The outbox, and what a mail server did with what lies in it.</summary>
public sealed class MailPage(Outbox outbox, MailDeliveries deliveries, MailRoute route) : BookPage
{
    public IReadOnlyList<SentMail> Mails { get; private set; } = [];

    public OpenedMail? Opened { get; private set; }

    public IReadOnlyDictionary<string, MailDeliveryRecord> Deliveries { get; private set; } = new Dictionary<string, MailDeliveryRecord>();

    public int Failed { get; private set; }

    public bool HasServer => route.Server is not null;

    public void OnGet(string? mail)
    {
        Mails = outbox.List();
        Opened = mail is null ? null : outbox.Find(mail);
        (Deliveries, Failed) = (deliveries.Of([.. Mails.Select(m => m.Id)]), deliveries.Failed());
    }

    public IActionResult OnPostAgain(string mail)
    {
        deliveries.SendAgain(mail, By);
        Done = "It is sent once more.";
        return RedirectToPage(new { handler = "", mail });
    }

    public string Local(DateTimeOffset at) => Book.Local(at);

    /// <summary>What the mail server did with it.</summary>
    public string Words(string mail) => Deliveries.GetValueOrDefault(mail) switch
    {
        null => "kept here",
        { State: DeliveryState.Sent } => "taken by the mail server",
        { State: DeliveryState.Refused } d => $"came back: {d.Answer}",
        { State: DeliveryState.GivenUp } d => $"given up: {d.Answer}",
        { Answer.Length: > 0 } d => $"is tried again: {d.Answer}",
        _ => "waits for the mail server",
    };

    /// <summary>Whether it can be sent once more.</summary>
    public bool CameBack(string mail) => HasServer && Deliveries.GetValueOrDefault(mail)?.State is DeliveryState.Refused or DeliveryState.GivenUp;
}
