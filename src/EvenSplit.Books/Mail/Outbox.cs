using System.Diagnostics.CodeAnalysis;
using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;
using MimeKit;

namespace EvenSplit.Books.Mail;

/// <summary>A mail as the outbox lists it.</summary>
public sealed record SentMail(string Id, DateTimeOffset At, string To, string Subject, IReadOnlyList<string> Attachments);

/// <summary>A mail opened.</summary>
public sealed record OpenedMail(SentMail Mail, string Text);

/// <summary>
/// The outbox: mail is written as files in the open format any mail program reads, and kept. Where a mail server is set up, it sends them on.
/// </summary>
public sealed class Outbox(BookDbContext db, BookPlace place, BookCache cache, BookClock clock, MailRoute route) : IUseCase
{
    private const int MostListed = 200;

    /// <summary>Puts a mail into the outbox.</summary>
    /// <param name="id">What the mail is for: letters, digits and dashes; the same id again puts nothing there.</param>
    /// <returns>Whether it is new.</returns>
    /// <exception cref="RefusedException">The address is none.</exception>
    public bool Send(string id, string name, string address, string subject, string text, (string Name, byte[] Content)? attachment = null)
    {
        if (!IsAddress(address, out var mailbox)) throw new RefusedException($"{address} is no e-mail address.");
        Directory.CreateDirectory(place.Outbox);
        var file = PathOf(id);
        if (File.Exists(file)) return AwaitsServer(id);
        var mail = new MimeMessage { Subject = subject, Date = clock.GetUtcNow(), MessageId = $"{id}@evensplit.invalid" };
        mail.From.Add(new MailboxAddress(cache.Find()!.Record.Name, "payments@evensplit.invalid"));
        mail.To.Add(new MailboxAddress(name, mailbox.Address));
        var body = new BodyBuilder { TextBody = text };
        if (attachment is { } attached) body.Attachments.Add(attached.Name, attached.Content);
        mail.Body = body.ToMessageBody();
        mail.WriteTo(file + ".part");
        File.Move(file + ".part", file, overwrite: true);
        AwaitsServer(id);
        return true;
    }

    /// <summary>Where a server sends mail on, it is to send this one; within the caller's transaction, so that what was not done is not told.</summary>
    /// <returns>Whether that is new.</returns>
    private bool AwaitsServer(string id) => route.Server is not null
        && db.Database.ExecuteSql($"INSERT INTO MailDeliveries (Id, State, Tries, NextAt, Answer) VALUES ({id}, 0, 0, 0, '') ON CONFLICT DO NOTHING") > 0;

    /// <summary>Whether mail can be sent to it.</summary>
    public static bool IsAddress(string text, [NotNullWhen(true)] out MailboxAddress? mailbox) =>
        MailboxAddress.TryParse(text, out mailbox) && mailbox.Address.IndexOf('@', StringComparison.Ordinal) > 0 && mailbox.Address == text.Trim();

    /// <summary>The latest first.</summary>
    public IReadOnlyList<SentMail> List() => !Directory.Exists(place.Outbox) ? [] : [.. new DirectoryInfo(place.Outbox).EnumerateFiles("*.eml")
        .OrderByDescending(f => f.LastWriteTimeUtc).ThenBy(f => f.Name, StringComparer.Ordinal).Take(MostListed).Select(f => Listed(f.FullName))];

    public OpenedMail? Find(string id)
    {
        if (!IsId(id) || !File.Exists(PathOf(id))) return null;
        using var mail = MimeMessage.Load(PathOf(id));
        return new OpenedMail(Listed(PathOf(id)), mail.TextBody ?? "");
    }

    private static SentMail Listed(string file)
    {
        using var mail = MimeMessage.Load(file);
        return new SentMail(Path.GetFileNameWithoutExtension(file), mail.Date, mail.To.ToString(), mail.Subject ?? "", [.. mail.Attachments.Select(a => a.ContentDisposition?.FileName ?? "")]);
    }

    private string PathOf(string id) => IsId(id) ? Path.Combine(place.Outbox, id + ".eml") : throw new ArgumentException("Letters, digits and dashes only.", nameof(id));

    private static bool IsId(string id) => id.Length is > 0 and < 200 && id.All(c => char.IsAsciiLetterOrDigit(c) || c == '-');
}
