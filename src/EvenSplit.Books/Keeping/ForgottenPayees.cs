using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Keeping;

/// <summary>
/// Takes out of the book what need not be kept of somebody who has left: how they are reached, what they told as they asked to take part, where they signed in. What the law of bookkeeping keeps stays:
/// their name, entries, payments, statements, invoices written for them, tax forms, and the record.
/// </summary>
public sealed class ForgottenPayees(BookDbContext db, BookClock clock, UnknownBuyers buyers, AuditLog audit) : IUseCase
{
    /// <summary>Why a payee cannot be forgotten yet; null where they can.</summary>
    public string? Refusal(string payee)
    {
        var record = db.Payees.AsNoTracking().Known(p => p.Id == payee);
        return record.ActiveTo is not { } end || end > clock.Today ? "They are still active: say first from which day they are not."
            : db.OpenSums.Where(s => s.Payee == payee).Sum(s => s.Amount) != 0 || db.Adjustments.Any(a => a.Payee == payee && a.RunId == null) ? "Something is still owed to them, or by them."
            : db.Remittances.Any(r => r.Payee == payee && r.Paid > 0 && (r.State == RemittanceState.Ready || r.State == RemittanceState.Sent)) ? "A payment is on its way to them."
            : null;
    }

    /// <exception cref="RefusedException">They are active, something is owed, or a payment is on its way.</exception>
    public void Forget(string payee, string by)
    {
        using var transaction = db.Database.BeginTransaction();
        if (Refusal(payee) is { } refusal) throw new RefusedException(refusal);
        var record = db.Payees.Known(p => p.Id == payee);
        var email = record.Email?.ToLowerInvariant();
        foreach (var application in db.Applications.Where(a => a.Payee == payee || (email != null && a.Email == email)).ToArray())
        {
            (application.Name, application.Email, application.Sites, application.Note, application.Answers, application.From) = ("(forgotten)", $"forgotten-{application.Id}@evensplit.invalid", "", "", "[]", "");
        }
        foreach (var invitation in db.Invitations.Where(i => i.Payee == payee || (email != null && i.Email == email)).ToArray()) (invitation.Name, invitation.Email) = ("(forgotten)", $"forgotten-{invitation.Id}@evensplit.invalid");
        (record.Email, record.PostalAddress, record.TaxNumber, record.Language, record.IsUnsubscribed) = (null, "", "", "", true);
        audit.Note(by, "forget", payee);
        db.SaveChanges();
        db.PayeeSessions.Where(s => s.Payee == payee).ExecuteDelete();
        db.LeaderboardPlaces.Where(p => p.Payee == payee).ExecuteDelete();
        db.PayeeLogins.Where(l => l.Id == payee).ExecuteDelete();
        db.Set<PayeeLoginToken>().Where(t => t.UserId == payee).ExecuteDelete();
        db.Set<PayeePasskey>().Where(k => k.UserId == payee).ExecuteDelete();
        db.PayeeLinks.Where(l => l.Payee == payee).ExecuteDelete();
        transaction.Commit();
        // As buyers they are made unknown for themselves: that goes over orders.
        foreach (var key in record.CustomerKeys.Where(k => buyers.Find(k).IsAny && !k.StartsWith(UnknownBuyers.Prefix, StringComparison.Ordinal)).ToArray()) buyers.Forget(key, by);
    }
}
