using System.Security.Cryptography;
using System.Text;
using EvenSplit.Books.Mail;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Own;

/// <summary>Payees sign in by a mailed link. Nothing tells whether an address is known.</summary>
public sealed class PayeeSignIn(BookDbContext db, BookCache cache, BookClock clock, Outbox outbox, DetailMails mails, RequestOrigin origin, AuditLog audit) : IUseCase
{
    /// <summary>How long a link opens: one that a payee asked for, and one that the house has sent.</summary>
    public static readonly TimeSpan AskedLasts = TimeSpan.FromMinutes(15), SentLasts = TimeSpan.FromDays(7);

    /// <summary>After which a payee signs in again.</summary>
    public static readonly TimeSpan SessionLasts = TimeSpan.FromDays(30);

    private const int MostOpen = 3, LongestBrowser = 200;

    /// <summary>Mails a link to whoever has the address; the same is done for one that nobody has, and nothing is sent.</summary>
    /// <param name="browser">A secret that the browser keeps until the link is opened.</param>
    /// <param name="site">Where this application is reached.</param>
    /// <param name="to">The page of theirs that they came for, as /me/questions.</param>
    public void Ask(string email, string browser, string site, string to = "")
    {
        var address = email.Trim().ToLowerInvariant();
        var payee = db.Payees.AsNoTracking().Where(p => p.Email != null && p.Email.ToLower() == address).OrderBy(p => p.Position).Select(p => p.Id).FirstOrDefault();
        var (token, since) = (NewSecret(), Now - AskedLasts);
        using var transaction = db.Database.BeginTransaction();
        db.PayeeLinks.Where(l => l.UsedAt == null && l.BrowserHash != null && l.At < since).ExecuteDelete();
        if (payee is not null && db.PayeeLinks.Count(l => l.Payee == payee && l.UsedAt == null && l.BrowserHash != null) < MostOpen) Send(payee, token, HashOf(browser), site, to);
        transaction.Commit();
    }

    /// <summary>Mails a payee a link from the house; it opens once, in whatever browser it is opened first.</summary>
    /// <exception cref="RefusedException">The book has no address of theirs.</exception>
    public void Invite(string payee, string by, string site)
    {
        using var transaction = db.Database.BeginTransaction();
        Send(payee, NewSecret(), null, site);
        audit.Note(by, "mail a link to sign in", payee);
        db.SaveChanges();
        transaction.Commit();
    }

    /// <summary>Mails several a link each.</summary>
    /// <returns>How many were mailed, and how many have no address.</returns>
    /// <exception cref="RefusedException">Nobody is named.</exception>
    public (int Mailed, int WithoutAddress) InviteMany(IReadOnlyCollection<string> payees, string by, string site)
    {
        if (payees.Count == 0) throw new RefusedException("Mark at least one payee.", "Marked");
        var reached = db.Payees.AsNoTracking().Where(p => payees.Contains(p.Id) && p.Email != null && p.Email != "").Select(p => p.Id).ToArray();
        using var transaction = db.Database.BeginTransaction();
        foreach (var payee in reached) Send(payee, NewSecret(), null, site);
        audit.Note(by, $"mail links to sign in to {MoneyWords.Count(reached.Length, "payee")}", "payees");
        db.SaveChanges();
        transaction.Commit();
        return (reached.Length, payees.Count - reached.Length);
    }

    /// <summary>Whether a link would sign in, without using it.</summary>
    public bool Opens(string token, string browser) => Find(token, browser) is not null;

    /// <summary>Uses a link up.</summary>
    /// <returns>The session it opened; null where the link is unknown, used, too old, or was asked for in another browser.</returns>
    public PayeeSessionRecord? Open(string token, string browser, string agent)
    {
        using var transaction = db.Database.BeginTransaction();
        if (Find(token, browser) is not { NewEmail: null } link) return null;
        link.UsedAt = Now;
        var session = Start(link.Payee, "link", agent);
        transaction.Commit();
        return session;
    }

    /// <summary>Opens a session of somebody who has shown who they are.</summary>
    /// <param name="by">With what: link, passkey, password and app.</param>
    public PayeeSessionRecord Start(string payee, string by, string agent)
    {
        var session = new PayeeSessionRecord { Id = NewSecret(), Payee = payee, StartedAt = Now, Origin = origin.Text, Browser = agent.Length > LongestBrowser ? agent[..LongestBrowser] : agent };
        db.PayeeSessions.Add(session);
        audit.Note(cache.Get(db).PayeeName(payee), $"sign in by {by}", payee);
        db.SaveChanges();
        return session;
    }

    /// <summary>Mails a link to what is to be a payee's new address: whoever opens it has it. Their address until then is told of it.</summary>
    /// <exception cref="RefusedException">It is no address, or theirs already.</exception>
    public void AskNewEmail(string payee, string email, string site)
    {
        var address = email.Trim();
        if (!address.All(char.IsAscii) || !Outbox.IsAddress(address, out _)) throw new RefusedException("Give an e-mail address, such as name@shop.example.", "NewEmail");
        var record = db.Payees.AsNoTracking().Known(p => p.Id == payee);
        if (string.Equals(record.Email, address, StringComparison.OrdinalIgnoreCase)) throw new RefusedException("That is your address already.", "NewEmail");
        var (token, now) = (NewSecret(), Now);
        var since = now - AskedLasts;
        using var transaction = db.Database.BeginTransaction();
        // So that nobody mails strangers by it.
        if (db.PayeeLinks.Count(l => l.Payee == payee && l.NewEmail != null && l.At > since) >= MostOpen) throw new RefusedException("Several links were sent lately. Wait a quarter of an hour, then ask again.", "NewEmail");
        // One at a time: what was asked for before opens no more.
        db.PayeeLinks.Where(l => l.Payee == payee && l.NewEmail != null && l.UsedAt == null).ExecuteUpdate(set => set.SetProperty(l => l.UsedAt, now));
        db.PayeeLinks.Add(new PayeeLinkRecord { TokenHash = HashOf(token), Payee = payee, At = Now, NewEmail = address });
        audit.Note(record.Name, "ask for another address", payee);
        db.SaveChanges();
        var book = cache.Get(db).Record.Name;
        outbox.Send($"new-address-{HashOf(token)[..16]}", record.Name, address, $"{book}: is this your address?", $"Dear {record.Name},\n\nopen this within seven days to show that this address is yours; it works once:\n\n{site}/me/enter?token={token}\n\nIf you did not ask for it, do nothing.\n\n{book}, {clock.Today.InWords()}\n");
        mails.Tell(payee, $"asked-address-{HashOf(token)[..16]}", $"your mails are to go to {address}, once a link that was sent there is opened.");
        transaction.Commit();
    }

    /// <summary>The address that opening a link would make a payee's own; null where it would not.</summary>
    public string? NewEmail(string token) => Find(token, "")?.NewEmail;

    /// <summary>Makes the address of a link the payee's own, once. The one before is told.</summary>
    /// <returns>False where the link is unknown, used or too old.</returns>
    public bool TakeNewEmail(string token)
    {
        using var transaction = db.Database.BeginTransaction();
        if (Find(token, "") is not { NewEmail: { } address } link) return false;
        link.UsedAt = Now;
        var record = db.Payees.Known(p => p.Id == link.Payee);
        var before = record.Email;
        record.Email = address;
        audit.Note(record.Name, "change their address", link.Payee);
        db.SaveChanges();
        if (before is { Length: > 0 }) mails.Tell(link.Payee, $"new-address-{HashOf(token)[..16]}-taken", $"from now on your mails go to {address}.", before);
        transaction.Commit();
        return true;
    }

    /// <summary>Null where it is ended, too old, or never was.</summary>
    public PayeeSessionRecord? Session(string id)
    {
        var earliest = Now - SessionLasts;
        return db.PayeeSessions.AsNoTracking().FirstOrDefault(s => s.Id == id && s.EndedAt == null && s.StartedAt > earliest);
    }

    /// <summary>The open sign-ins of a payee, the latest first.</summary>
    public IReadOnlyList<PayeeSessionRecord> Sessions(string payee)
    {
        var earliest = Now - SessionLasts;
        return [.. db.PayeeSessions.AsNoTracking().Where(s => s.Payee == payee && s.EndedAt == null && s.StartedAt > earliest).OrderByDescending(s => s.StartedAt)];
    }

    /// <summary>Ends a sign-in of theirs, from wherever.</summary>
    public void End(string payee, string id)
    {
        var now = Now;
        db.PayeeSessions.Where(s => s.Id == id && s.Payee == payee && s.EndedAt == null).ExecuteUpdate(set => set.SetProperty(s => s.EndedAt, now));
    }

    /// <summary>A secret of 256 bits as text.</summary>
    public static string NewSecret() => Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(32));

    private static string HashOf(string secret) => Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(secret)));

    private static DateTimeOffset Now => TimeProvider.System.GetUtcNow();

    private void Send(string payee, string token, string? browserHash, string site, string to = "")
    {
        var record = db.Payees.AsNoTracking().Known(p => p.Id == payee);
        if (record.Email is not { Length: > 0 } address) throw new RefusedException($"The book has no address of {record.Name}.");
        db.PayeeLinks.Add(new PayeeLinkRecord { TokenHash = HashOf(token), Payee = payee, BrowserHash = browserHash, At = Now });
        db.SaveChanges();
        var book = cache.Get(db).Record.Name;
        var lasts = browserHash is null ? "within seven days" : "within fifteen minutes, in the browser in which you asked for it";
        outbox.Send($"sign-in-{HashOf(token)[..16]}", record.Name, address, $"{book}: your link to sign in", $"Dear {record.Name},\n\nopen this {lasts}; it works once:\n\n{site}/me/enter?token={token}{(to.Length > 0 ? $"&to={Uri.EscapeDataString(to)}" : "")}\n\nIf you did not ask for it, do nothing.\n\n{book}, {clock.Today.InWords()}\n");
    }

    private PayeeLinkRecord? Find(string token, string browser)
    {
        if (token.Length != 64) return null;
        var (hash, asked, sent) = (HashOf(token), Now - AskedLasts, Now - SentLasts);
        var link = db.PayeeLinks.SingleOrDefault(l => l.TokenHash == hash && l.UsedAt == null);
        if (link is null || link.At <= (link.BrowserHash is null ? sent : asked)) return null;
        return link.BrowserHash is null || link.BrowserHash == HashOf(browser) ? link : null;
    }
}
