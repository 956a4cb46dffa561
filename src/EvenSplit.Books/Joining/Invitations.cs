using EvenSplit.Books.Mail;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using EvenSplit.Formats;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Joining;

/// <summary>An invitation in the list.</summary>
public sealed record InvitationRow(InvitationRecord Record, string Agreement)
{
    public bool IsOpen => Record.AcceptedAt is null && Record.WithdrawnAt is null;
}

/// <summary>Asks people to take part, approved in advance: whoever accepts is in.</summary>
public sealed class Invitations(BookDbContext db, BookCache cache, BookClock clock, JoiningMails mails, Applying applying, ApplicationDecisions decisions, RulesChange rulesChange, AuditLog audit) : IUseCase
{
    private const int MostAtOnce = 1000;

    private static readonly TimeSpan LinkLasts = TimeSpan.FromDays(30);

    public IReadOnlyList<InvitationRow> List()
    {
        var book = cache.Get(db);
        return [.. db.Invitations.AsNoTracking().OrderByDescending(i => i.Id).Take(500).AsEnumerable().Select(i => new InvitationRow(i, book.AgreementName(i.AgreementId)))];
    }

    /// <summary>Invites those named, one a line, as an address or as Name &lt;address&gt;; all or none. Who is invited to it already, or is on it, is passed over.</summary>
    /// <returns>How many were invited and how many passed over.</returns>
    /// <exception cref="RefusedException">A line has no address, or nobody may join the agreement.</exception>
    public (int Invited, int Known) Invite(string agreement, string people, string by, string site)
    {
        if (applying.Open().All(a => a.Id != agreement)) throw new RefusedException("This agreement takes nobody new: say first how people join it.", "Agreement");
        var lines = people.Split('\n', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries);
        if (lines.Length == 0) throw new RefusedException("Name whom to invite, one a line.", "People");
        if (lines.Length > MostAtOnce) throw new RefusedException($"Invite at most {MostAtOnce} at once.", "People");
        var named = lines.Select((line, i) => Read(line) ?? throw new RefusedException($"Line {i + 1}, {line}: this is no e-mail address; write name@shop.example, or Name <name@shop.example>.", "People")).DistinctBy(n => n.Email).ToArray();
        var invited = new List<(InvitationRecord Invitation, string Token)>();
        using (var transaction = db.Database.BeginTransaction())
        {
            foreach (var (name, email) in named)
            {
                if (db.Invitations.Any(i => i.AgreementId == agreement && i.Email == email && i.WithdrawnAt == null)) continue;
                if (db.Memberships.Any(m => m.AgreementId == agreement && m.To == null && m.Products == null && db.Payees.Any(p => p.Id == m.PayeeId && p.Email != null && p.Email.ToLower() == email))) continue;
                var token = Applying.NewToken();
                var invitation = new InvitationRecord { AgreementId = agreement, Name = name, Email = email, TokenHash = Applying.HashOf(token), By = by, At = clock.GetUtcNow(), Sent = 1 };
                db.Invitations.Add(invitation);
                invited.Add((invitation, token));
            }
            audit.Note(by, $"invite {MoneyWords.Count(invited.Count, "person", "people")}", agreement);
            db.SaveChanges();
            transaction.Commit();
        }
        foreach (var (invitation, token) in invited) Mail(invitation, token, site);
        return (invited.Count, named.Length - invited.Count);
    }

    /// <summary>Those named in a file of contacts, one a line as <see cref="Invite"/> takes them. Nobody is invited yet.</summary>
    /// <param name="name">The file's name: cards end in .vcf, anything else is CSV with a column email and, if it has one, name.</param>
    /// <exception cref="RefusedException">It cannot be read, or names nobody.</exception>
    public static string NamedIn(string name, string content)
    {
        var people = (name.EndsWith(".vcf", StringComparison.OrdinalIgnoreCase) ? ContactCards.Read(new StringReader(content)) : ContactList.Read(content)).ToArray();
        if (people.Length == 0) throw new RefusedException($"{name} names nobody with an e-mail address. It is a CSV file with a column email (and name), or cards of an address book (.vcf).", "File");
        return string.Join('\n', people.Select(p => Line(p.Name, p.Email)));
    }

    /// <summary>Customers who bring friends, where the shop knows them by their address: those who are no payees yet and not invited, one a line as <see cref="Invite"/> takes them.</summary>
    /// <exception cref="RefusedException">There are none.</exception>
    public string CustomersWhoBringFriends()
    {
        var payees = db.Payees.AsNoTracking().Where(p => p.Email != null).Select(p => p.Email!.ToLower()).ToHashSet();
        var invited = db.Invitations.AsNoTracking().Where(i => i.WithdrawnAt == null).Select(i => i.Email).ToHashSet();
        var people = db.CustomerCodes.AsNoTracking().Where(c => c.CustomerKey.Contains('@')).OrderBy(c => c.Code).Select(c => new { c.Name, c.CustomerKey }).AsEnumerable()
            .DistinctBy(c => c.CustomerKey.ToLowerInvariant()).Where(c => Read(c.CustomerKey) is { } read && !payees.Contains(read.Email) && !invited.Contains(read.Email)).Take(MostAtOnce).ToArray();
        if (people.Length == 0) throw new RefusedException("No customer with a code for friends is known by an e-mail address and not invited yet.");
        return string.Join('\n', people.Select(c => Line(c.Name, c.CustomerKey)));
    }

    private static string Line(string name, string email) => name.Length > 0 ? $"{name.Replace('<', ' ').Replace('>', ' ')} <{email}>" : email;

    /// <summary>Mails it once more; the link before opens no more.</summary>
    public void SendAgain(int id, string by, string site)
    {
        var invitation = Open(id);
        var token = Applying.NewToken();
        (invitation.TokenHash, invitation.At) = (Applying.HashOf(token), clock.GetUtcNow());
        invitation.Sent++;
        audit.Note(by, "invite again", invitation.Email);
        db.SaveChanges();
        Mail(invitation, token, site);
    }

    public void Withdraw(int id, string by)
    {
        var invitation = Open(id);
        invitation.WithdrawnAt = clock.GetUtcNow();
        audit.Note(by, "withdraw an invitation", invitation.Email);
        db.SaveChanges();
    }

    /// <summary>The invitation a link opens, and what it is to; null where it opens none. That it was opened is noted.</summary>
    public (InvitationRecord Invitation, OpenAgreement Agreement)? Find(string token)
    {
        if (ByToken(token) is not { } invitation || applying.Open().FirstOrDefault(a => a.Id == invitation.AgreementId) is not { } agreement) return null;
        if (invitation.OpenedAt is null)
        {
            invitation.OpenedAt = clock.GetUtcNow();
            db.SaveChanges();
        }
        return (invitation, agreement);
    }

    /// <summary>They accept, and are in.</summary>
    /// <param name="from">The network address.</param>
    /// <returns>The fields at fault; none where they are in.</returns>
    /// <exception cref="RefusedException">The link opens nothing any more.</exception>
    public IReadOnlyList<Forms.FieldFault> Accept(string token, ApplicationDraft draft, string from, string site)
    {
        var (invitation, agreement) = Find(token) ?? throw new RefusedException("This invitation is not open any more. Ask whoever sent it for another.");
        var (application, faults) = Applying.Prepared(agreement, draft with { Email = invitation.Email }, from, clock.GetUtcNow());
        if (application is null) return faults;
        using (var change = rulesChange.Begin())
        {
            db.Applications.Add(application);
            db.SaveChanges();
            decisions.Take(application, Approval.Whole, invitation.By);
            (invitation.AcceptedAt, invitation.Payee) = (clock.GetUtcNow(), application.Payee);
            change.Commit();
        }
        decisions.Welcome(application, site);
        return [];
    }

    private void Mail(InvitationRecord invitation, string token, string site) => mails.Invite(invitation, cache.Get(db).AgreementName(invitation.AgreementId), $"{site}/apply/invitation?token={token}");

    private InvitationRecord Open(int id)
    {
        var invitation = db.Invitations.Known(i => i.Id == id);
        if (invitation.AcceptedAt is not null) throw new RefusedException($"{invitation.Email} has accepted already.");
        return invitation.WithdrawnAt is null ? invitation : throw new RefusedException("It is withdrawn.");
    }

    private InvitationRecord? ByToken(string token)
    {
        if (token.Length != 64) return null;
        var (hash, since) = (Applying.HashOf(token), clock.GetUtcNow() - LinkLasts);
        return db.Invitations.SingleOrDefault(i => i.TokenHash == hash && i.AcceptedAt == null && i.WithdrawnAt == null && i.At > since);
    }

    private static (string Name, string Email)? Read(string line)
    {
        var open = line.LastIndexOf('<');
        var (name, email) = open >= 0 && line.EndsWith('>') ? (line[..open].Trim().Trim('"'), line[(open + 1)..^1].Trim()) : ("", line);
        email = email.ToLowerInvariant();
        return email.All(char.IsAscii) && Outbox.IsAddress(email, out _) ? (name, email) : null;
    }
}
