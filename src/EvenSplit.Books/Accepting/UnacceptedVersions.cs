using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Accepting;

/// <summary>What is agreed in words and in force, and who on it has not accepted it. Found anew each time: a membership, a version or a day may change it.</summary>
public sealed class UnacceptedVersions(BookDbContext db, BookClock clock, AuditLog audit) : IUseCase
{
    /// <summary>The versions in force that a payee has still to accept, by agreement.</summary>
    public IReadOnlyList<AgreementVersionRecord> Of(string payee)
    {
        var today = clock.Today;
        return [.. db.Memberships.AsNoTracking().Where(m => m.PayeeId == payee && m.From <= today && (m.To == null || m.To > today)).Select(m => m.AgreementId).Distinct().AsEnumerable().Order(StringComparer.Ordinal)
            .Select(agreement => InForce(db, agreement, today)).OfType<AgreementVersionRecord>()
            .Where(v => v.Text.Length > 0 && !db.Acceptances.Any(a => a.VersionId == v.Id && a.Payee == payee))];
    }

    /// <summary>Who is on an agreement today and has not accepted its version in force; nobody where it has no text.</summary>
    public IReadOnlyList<string> On(string agreement) => InForce(db, agreement, clock.Today) is { Text.Length: > 0 } version ? Without(db, version, clock.Today) : [];

    /// <summary>The version of an agreement in force on a day.</summary>
    public static AgreementVersionRecord? InForce(BookDbContext db, string agreement, DateOnly on) =>
        db.AgreementVersions.AsNoTracking().Where(v => v.AgreementId == agreement && v.From <= on && !db.WithdrawnVersions.Any(w => w.VersionId == v.Id)).OrderByDescending(v => v.From).ThenByDescending(v => v.Id).FirstOrDefault();

    /// <summary>Whom a run as of a day does not pay because an agreement says so until its version is accepted.</summary>
    public static IReadOnlySet<string> Held(BookDbContext db, DateOnly on) => db.Joinings.AsNoTracking().Where(j => j.Unaccepted == UnacceptedRule.HoldsPayments).Select(j => j.AgreementId).AsEnumerable()
        .Select(agreement => InForce(db, agreement, on)).OfType<AgreementVersionRecord>().Where(v => v.Text.Length > 0).SelectMany(v => Without(db, v, on)).ToHashSet();

    /// <summary>A payee accepts a version on their own pages.</summary>
    /// <param name="from">The network address.</param>
    /// <exception cref="RefusedException">It is not one they have to accept: another took its place, or it is accepted.</exception>
    public void Accept(int version, string payee, string name, string from)
    {
        using var transaction = db.Database.BeginTransaction();
        if (Of(payee).All(v => v.Id != version)) throw new RefusedException("This is accepted already, or another version has taken its place.");
        db.Acceptances.Add(new AcceptanceRecord { VersionId = version, Payee = payee, AcceptedOn = clock.Today, Note = $"on their pages, from {from}", RecordedBy = name, RecordedAt = clock.GetUtcNow() });
        audit.Note(name, "accept what is agreed", payee);
        db.SaveChanges();
        transaction.Commit();
    }

    private static string[] Without(BookDbContext db, AgreementVersionRecord version, DateOnly on) => [.. db.Memberships.AsNoTracking()
        .Where(m => m.AgreementId == version.AgreementId && m.From <= on && (m.To == null || m.To > on) && !db.Acceptances.Any(a => a.VersionId == version.Id && a.Payee == m.PayeeId))
        .Select(m => m.PayeeId).Distinct().OrderBy(p => p)];
}
