using EvenSplit.Books.Mail;

namespace EvenSplit.Web.Pages;

/// <summary>The outbox.</summary>
public sealed class MailPage(Outbox outbox) : BookPage
{
    public IReadOnlyList<SentMail> Mails { get; private set; } = [];

    public OpenedMail? Opened { get; private set; }

    public void OnGet(string? mail)
    {
        Mails = outbox.List();
        Opened = mail is null ? null : outbox.Find(mail);
    }

    public string Local(DateTimeOffset at) => Book.Local(at);
}
