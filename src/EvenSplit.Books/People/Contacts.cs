using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.People;

/// <summary>Whom a mailing goes to; empty or null for all.</summary>
/// <param name="Agreement">Who is on it today.</param>
/// <param name="EarnedSince">Who has earned anything in that month or later.</param>
public sealed record ContactFilter(PayeeRole? Role, string Agreement, Period? EarnedSince);

/// <param name="LastEarned">The last month in which they earned; null where they never did.</param>
public sealed record Contact(string Id, string Name, string Email, PayeeRole Role, IReadOnlyList<string> Agreements, Period? LastEarned);

/// <summary>Payees who are active and whose address is known, for a mailing.</summary>
public sealed class Contacts(BookDbContext db, BookCache cache, BookClock clock) : IUseCase
{
    public IReadOnlyList<Contact> Find(ContactFilter filter)
    {
        var (book, today) = (cache.Get(db), clock.Today);
        var earned = db.EntrySums.AsNoTracking().Where(s => !s.IsReversal).GroupBy(s => s.Payee).Select(g => new { g.Key, Last = g.Max(s => s.Period) }).ToDictionary(g => g.Key, g => g.Last);
        var addresses = db.Payees.AsNoTracking().Where(p => p.Email != null).Select(p => new { p.Id, p.Email }).ToDictionary(p => p.Id, p => p.Email!);
        return [.. book.Rules.Payees.Where(p => p.IsActiveOn(today) && addresses.ContainsKey(p.Id.Value) && (filter.Role is null || p.Role == filter.Role))
            .Select(p => (Payee: p, On: p.Memberships.Where(m => m.From <= today && (m.To is null || m.To > today)).Select(m => m.Agreement.Value).Distinct().ToArray(), Last: earned.TryGetValue(p.Id.Value, out var last) ? new Period(last) : (Period?)null))
            .Where(p => (filter.Agreement.Length == 0 || p.On.Contains(filter.Agreement)) && (filter.EarnedSince is not { } since || p.Last?.Number >= since.Number))
            .Select(p => new Contact(p.Payee.Id.Value, book.PayeeName(p.Payee.Id.Value), addresses[p.Payee.Id.Value], p.Payee.Role, [.. p.On.Select(book.AgreementName).Order(StringComparer.Ordinal)], p.Last))
            .OrderBy(c => c.Name, StringComparer.OrdinalIgnoreCase)];
    }
}
