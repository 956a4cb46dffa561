using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Mail;

/// <summary>Tells a payee at once that something of theirs is to change by which money could be led astray.</summary>
public sealed class DetailMails(BookDbContext db, MailTemplates templates, Outbox outbox) : IUseCase
{
    /// <param name="id">What the mail is for; the same id again sends nothing.</param>
    /// <param name="change">A sentence.</param>
    /// <param name="address">Where to; null for the address the book has, and nothing where it has none.</param>
    public void Tell(string payee, string id, string change, string? address = null)
    {
        var record = db.Payees.AsNoTracking().Known(p => p.Id == payee);
        if ((address ?? record.Email) is not { Length: > 0 } to) return;
        var (subject, text) = templates.Filled(MailKind.DetailsChanged, ("name", record.Name), ("change", change));
        outbox.Send(id, record.Name, to, subject, text);
    }
}
