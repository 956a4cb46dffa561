using System.Security.Cryptography;
using System.Text;
using EvenSplit.Books.Mail;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Own;

/// <summary>Payees sign in by a mailed link. Nothing tells whether an address is known.</summary>
public sealed class PayeeSignIn(BookDbContext db, BookCache cache, BookClock clock, Outbox outbox, RequestOrigin origin, AuditLog audit) : IUseCase
{
    /// <summary>How long a link opens: one that a payee asked for, and one that the house has sent.</summary>
    public static readonly TimeSpan AskedLasts = TimeSpan.FromMinutes(15), SentLasts = TimeSpan.FromDays(7);

    /// <summary>After which a payee signs in again.</summary>
    public static readonly TimeSpan SessionLasts = TimeSpan.FromDays(30);

    private const int MostOpen = 3, LongestBrowser = 200;

    /// <summary>Mails a link to whoever has the address; the same is done for one that nobody has, and nothing is sent.</summary>
    /// <param name="browser">A secret that the browser keeps until the link is opened.</param>
    /// <param name="site">Where this application is reached.</param>
    public void Ask(string email, string browser, string site)
    {
        var address = email.Trim().ToLowerInvariant();
        var payee = db.Payees.AsNoTracking().Where(p => p.Email != null && p.Email.ToLower() == address).OrderBy(p => p.Position).Select(p => p.Id).FirstOrDefault();
        var (token, since) = (NewSecret(), Now - AskedLasts);
        using var transaction = db.Database.BeginTransaction();
        db.PayeeLinks.Where(l => l.UsedAt == null && l.BrowserHash != null && l.At < since).ExecuteDelete();
        if (payee is not null && db.PayeeLinks.Count(l => l.Payee == payee && l.UsedAt == null && l.BrowserHash != null) < MostOpen) Send(payee, token, HashOf(browser), site);
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
        if (Find(token, browser) is not { } link) return null;
        link.UsedAt = Now;
        var session = new PayeeSessionRecord { Id = NewSecret(), Payee = link.Payee, StartedAt = Now, Origin = origin.Text, Browser = agent.Length > LongestBrowser ? agent[..LongestBrowser] : agent };
        db.PayeeSessions.Add(session);
        audit.Note(cache.Get(db).PayeeName(link.Payee), "sign in by link", link.Payee);
        db.SaveChanges();
        transaction.Commit();
        return session;
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

    private void Send(string payee, string token, string? browserHash, string site)
    {
        var record = db.Payees.AsNoTracking().Known(p => p.Id == payee);
        if (record.Email is not { Length: > 0 } address) throw new RefusedException($"The book has no address of {record.Name}.");
        db.PayeeLinks.Add(new PayeeLinkRecord { TokenHash = HashOf(token), Payee = payee, BrowserHash = browserHash, At = Now });
        db.SaveChanges();
        var book = cache.Get(db).Record.Name;
        var lasts = browserHash is null ? "within seven days" : "within fifteen minutes, in the browser in which you asked for it";
        outbox.Send($"sign-in-{HashOf(token)[..16]}", record.Name, address, $"{book}: your link to sign in", $"Dear {record.Name},\n\nopen this {lasts}; it works once:\n\n{site}/me/enter?token={token}\n\nIf you did not ask for it, do nothing.\n\n{book}, {clock.Today.InWords()}\n");
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
