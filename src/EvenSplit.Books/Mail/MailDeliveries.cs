using System.Security.Cryptography.X509Certificates;
using EvenSplit.Books.Model;
using MailKit;
using MailKit.Net.Smtp;
using MailKit.Security;
using Microsoft.EntityFrameworkCore;
using MimeKit;

namespace EvenSplit.Books.Mail;

/// <summary>
/// Sends on what lies in the outbox, each mail until the server takes it or says that it never will. A mail that the server took as the machine stopped is sent once more,
/// under the same message id.
/// </summary>
public sealed class MailDeliveries(BookDbContext db, BookPlace place, AuditLog audit) : IUseCase
{
    private const int MostAtOnce = 50;

    /// <summary>How long to wait after each try that failed; after the last it is given up.</summary>
    private static readonly TimeSpan[] Waits = [TimeSpan.FromMinutes(1), TimeSpan.FromMinutes(5), TimeSpan.FromMinutes(30), TimeSpan.FromHours(2), TimeSpan.FromHours(8), TimeSpan.FromHours(24)];

    private static DateTimeOffset Now => TimeProvider.System.GetUtcNow();

    public IReadOnlyDictionary<string, MailDeliveryRecord> Of(IReadOnlyCollection<string> mails) => db.MailDeliveries.AsNoTracking().Where(d => mails.Contains(d.Id)).ToDictionary(d => d.Id);

    /// <summary>How many came back for good.</summary>
    public int Failed() => db.MailDeliveries.Count(d => d.State == DeliveryState.Refused || d.State == DeliveryState.GivenUp);

    /// <summary>Has a mail sent that came back, or that waits for its next try.</summary>
    /// <exception cref="RefusedException">The server has taken it already.</exception>
    public void SendAgain(string mail, string by)
    {
        var delivery = db.MailDeliveries.Known(d => d.Id == mail);
        if (delivery.State == DeliveryState.Sent) throw new RefusedException("The server has taken it already.");
        (delivery.State, delivery.Tries, delivery.NextAt) = (DeliveryState.Waiting, 0, Now);
        audit.Note(by, "send a mail again", mail);
        db.SaveChanges();
    }

    /// <summary>Sends what is due.</summary>
    /// <returns>Whether any was.</returns>
    public async Task<bool> SendDueAsync(MailServer server, CancellationToken stopping)
    {
        var now = Now;
        var due = await db.MailDeliveries.Where(d => d.State == DeliveryState.Waiting && d.NextAt <= now).OrderBy(d => d.NextAt).Take(MostAtOnce).ToArrayAsync(stopping);
        if (due.Length == 0) return false;
        using var client = new SmtpClient();
        try
        {
            await ConnectAsync(client, server, stopping);
        }
        catch (Exception fault) when (fault is not OperationCanceledException)
        {
            // Nothing is the mails' own fault: they wait, and are not given up for it.
            foreach (var delivery in due) (delivery.NextAt, delivery.Answer) = (now + Waits[0], $"The mail server is not reached: {fault.Message}");
            await db.SaveChangesAsync(stopping);
            return true;
        }
        foreach (var delivery in due)
        {
            await SendAsync(client, server, delivery, stopping);
            // Each at once: a stop in between sends nothing twice that was taken.
            await db.SaveChangesAsync(CancellationToken.None);
            if (!client.IsConnected) break;
        }
        if (client.IsConnected) await client.DisconnectAsync(true, stopping);
        return true;
    }

    private async Task SendAsync(SmtpClient client, MailServer server, MailDeliveryRecord delivery, CancellationToken stopping)
    {
        delivery.Tries++;
        try
        {
            using var mail = await MimeMessage.LoadAsync(Path.Combine(place.Outbox, delivery.Id + ".eml"), stopping);
            var from = MailboxAddress.Parse(server.From);
            from.Name = mail.From.Mailboxes.First().Name;
            mail.From.Clear();
            mail.From.Add(from);
            (delivery.Answer, delivery.State, delivery.SentAt) = (await client.SendAsync(mail, stopping), DeliveryState.Sent, Now);
        }
        catch (SmtpCommandException fault) when ((int)fault.StatusCode >= 500)
        {
            (delivery.Answer, delivery.State) = ($"{(int)fault.StatusCode} {fault.Message}", DeliveryState.Refused);
        }
        catch (FileNotFoundException)
        {
            (delivery.Answer, delivery.State) = ("The mail is not in the outbox any more.", DeliveryState.GivenUp);
        }
        catch (Exception fault) when (fault is SmtpCommandException or IOException or ProtocolException or ServiceNotConnectedException or System.Net.Sockets.SocketException)
        {
            delivery.Answer = fault is SmtpCommandException refused ? $"{(int)refused.StatusCode} {refused.Message}" : fault.Message;
            if (delivery.Tries > Waits.Length) delivery.State = DeliveryState.GivenUp;
            else delivery.NextAt = Now + Waits[delivery.Tries - 1];
        }
    }

    private static async Task ConnectAsync(SmtpClient client, MailServer server, CancellationToken stopping)
    {
        if (server.Certificate.Length > 0)
        {
            using var pinned = X509CertificateLoader.LoadCertificateFromFile(server.Certificate);
            var expected = pinned.GetCertHashString();
            client.ServerCertificateValidationCallback = (_, shown, _, _) => shown?.GetCertHashString() == expected;
        }
        await client.ConnectAsync(server.Host, server.Port, SecureSocketOptions.StartTls, stopping);
        if (server.User.Length > 0) await client.AuthenticateAsync(server.User, server.Password, stopping);
    }
}
