using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Joining;

/// <summary>Somebody whose earnings are held longer since they are new, and how far they are.</summary>
/// <param name="HasRecord">Whether they have reached what the agreement asks for.</param>
public sealed record NewPayee(string Payee, string Name, string AgreementId, string Agreement, DateOnly Since, int Days, long Orders, Rate Refunds, JoiningRecord Asks, bool HasRecord);

/// <summary>New people until they have their record: it is proposed as they reach it, and a person gives it.</summary>
public sealed class NewPeople(BookDbContext db, BookCache cache, BookClock clock, RulesChange rulesChange, AuditLog audit) : IUseCase
{
    public IReadOnlyList<NewPayee> Find()
    {
        var (book, today) = (cache.Get(db), clock.Today);
        var joinings = db.Joinings.AsNoTracking().ToDictionary(j => j.AgreementId);
        var people = db.NewPayees.AsNoTracking().Where(n => n.EndedBy == null).OrderBy(n => n.Since).ThenBy(n => n.Payee).ToArray();
        var ids = people.Select(p => p.Payee).ToHashSet();
        var orders = db.SalesSums.AsNoTracking().Where(s => ids.Contains(s.BroughtBy)).GroupBy(s => s.BroughtBy)
            .Select(g => new { g.Key, Orders = g.Sum(s => s.Orders), Refunded = g.Sum(s => s.IsRefunded ? s.Orders : 0) }).ToDictionary(s => s.Key);
        return [.. people.Where(p => joinings.ContainsKey(p.AgreementId)).Select(p =>
        {
            var (asks, brought) = (joinings[p.AgreementId], orders.GetValueOrDefault(p.Payee));
            var (days, count, refunds) = (today.DayNumber - p.Since.DayNumber, brought?.Orders ?? 0, RefundShare.Of(brought?.Refunded ?? 0, brought?.Orders ?? 0));
            var has = days >= asks.RecordDays && count >= asks.RecordOrders && (asks.RecordRefunds == Rate.Zero || refunds.Millionths <= asks.RecordRefunds.Millionths);
            return new NewPayee(p.Payee, book.PayeeName(p.Payee), p.AgreementId, book.AgreementName(p.AgreementId), p.Since, days, count, refunds, asks, has);
        })];
    }

    /// <summary>They are paid as others from now on: their own hold is taken off, which moves what has not cleared forward.</summary>
    /// <exception cref="RefusedException">They are no longer new.</exception>
    public void End(string payee, string agreement, string by)
    {
        var person = db.NewPayees.FirstOrDefault(n => n.Payee == payee && n.AgreementId == agreement && n.EndedBy == null) ?? throw new RefusedException("They are paid as others already.");
        var record = db.Payees.Known(p => p.Id == payee);
        using var change = rulesChange.Begin();
        person.EndedBy = by;
        record.HoldDays = null;
        audit.Note(by, "pay as others", payee);
        change.Commit();
    }
}
