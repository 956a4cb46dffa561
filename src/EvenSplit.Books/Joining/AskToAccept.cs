using EvenSplit.Books.Accepting;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Joining;

/// <summary>Mails those on an agreement who have still to accept what is agreed.</summary>
public sealed class AskToAccept(BookDbContext db, BookCache cache, BookClock clock, UnacceptedVersions unaccepted, JoiningMails mails, AuditLog audit) : IUseCase
{
    /// <summary>How many have still to accept the version in force.</summary>
    public int Waiting(string agreement) => unaccepted.On(agreement).Count;

    /// <summary>Asks each by mail, once a version.</summary>
    /// <returns>How many were asked now, and how many have no address.</returns>
    public (int Asked, int WithoutAddress) Ask(string agreement, string by, string site)
    {
        var (waiting, asked, without) = (unaccepted.On(agreement), 0, 0);
        if (waiting.Count == 0) return (0, 0);
        var version = UnacceptedVersions.InForce(db, agreement, clock.Today)!;
        var known = db.Payees.AsNoTracking().Where(p => waiting.Contains(p.Id)).Select(p => new { p.Id, p.Name, p.Email }).OrderBy(p => p.Id).ToArray();
        foreach (var payee in known)
        {
            if (payee.Email is null) without++;
            else if (mails.NewVersion(version.Id, payee.Id, payee.Name, payee.Email, cache.Get(db).AgreementName(agreement), version.From, $"{site}/me/agreements")) asked++;
        }
        audit.NoteAlone(by, $"ask {MoneyWords.Count(asked, "payee")} to accept", agreement);
        return (asked, without);
    }
}
