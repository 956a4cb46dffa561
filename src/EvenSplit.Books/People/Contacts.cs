using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.People;

/// <summary>Whom a mailing goes to; empty or null for all.</summary>
/// <param name="Agreement">Who is on it today.</param>
/// <param name="EarnedSince">Who has earned anything in that month or later.</param>
/// <param name="Language">In which they are written to, with all its regions: pt is also pt-BR.</param>
public sealed record ContactFilter(PayeeRole? Role, string Agreement, Period? EarnedSince, string Language);

/// <param name="LastEarned">The last month in which they earned; null where they never did.</param>
/// <param name="Language">Empty where it is not known.</param>
public sealed record Contact(string Id, string Name, string Email, PayeeRole Role, string Language, IReadOnlyList<string> Agreements, Period? LastEarned);

/// <summary>Payees who are active, whose address is known and who have not asked to be left out, for a mailing.</summary>
public sealed class Contacts(BookDbContext db, BookCache cache, BookClock clock) : IUseCase
{
    /// <summary>The languages that are known of anybody.</summary>
    public IReadOnlyList<string> Languages() => [.. db.Payees.Where(p => p.Language != "").Select(p => p.Language).Distinct().AsEnumerable().Select(l => l.Split('-')[0]).Distinct().Order(StringComparer.Ordinal)];

    /// <summary>How many are left out because they asked for it.</summary>
    public int Unsubscribed() => db.Payees.Count(p => p.Email != null && p.IsUnsubscribed);

    public IReadOnlyList<Contact> Find(ContactFilter filter)
    {
        var (book, today) = (cache.Get(db), clock.Today);
        var earned = db.EntrySums.AsNoTracking().Where(s => !s.IsReversal).GroupBy(s => s.Payee).Select(g => new { g.Key, Last = g.Max(s => s.Period) }).ToDictionary(g => g.Key, g => g.Last);
        var addresses = db.Payees.AsNoTracking().Where(p => p.Email != null && !p.IsUnsubscribed).Select(p => new { p.Id, p.Email, p.Language }).ToDictionary(p => p.Id, p => (Email: p.Email!, p.Language));
        return [.. book.Rules.Payees.Where(p => p.IsActiveOn(today) && addresses.ContainsKey(p.Id.Value) && (filter.Role is null || p.Role == filter.Role)
                && (filter.Language.Length == 0 || addresses[p.Id.Value].Language.Split('-')[0] == filter.Language.Split('-')[0]))
            .Select(p => (Payee: p, On: p.Memberships.Where(m => m.From <= today && (m.To is null || m.To > today)).Select(m => m.Agreement.Value).Distinct().ToArray(), Last: earned.TryGetValue(p.Id.Value, out var last) ? new Period(last) : (Period?)null))
            .Where(p => (filter.Agreement.Length == 0 || p.On.Contains(filter.Agreement)) && (filter.EarnedSince is not { } since || p.Last?.Number >= since.Number))
            .Select(p => new Contact(p.Payee.Id.Value, book.PayeeName(p.Payee.Id.Value), addresses[p.Payee.Id.Value].Email, p.Payee.Role, addresses[p.Payee.Id.Value].Language, [.. p.On.Select(book.AgreementName).Order(StringComparer.Ordinal)], p.Last))
            .OrderBy(c => c.Name, StringComparer.OrdinalIgnoreCase)];
    }
}
