using System.Text.Json;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Joining;

/// <summary>Which applications to show.</summary>
public enum QueueShows { Waiting, AskedBack, Decided }

/// <summary>An application in the list.</summary>
public sealed record ApplicationRow(int Id, DateTimeOffset AskedAt, string Name, string Email, string Country, string Agreement, string? KnownAs, ApplicationState State, string? DecidedBy);

/// <summary>What the book knows of somebody who asks and is a payee already. Money in the payee's payout currency and others apart.</summary>
/// <param name="RefundsOfOrders">Of all orders they brought.</param>
/// <param name="RefundsOfMoney">Of all they earned, by currency the highest.</param>
public sealed record KnownFigures(string Payee, string Name, DateOnly Since, long Orders, IReadOnlyList<Money> Sales, Rate RefundsOfOrders, Rate RefundsOfMoney, bool IsOverLimit, bool IsTrusted, IReadOnlyList<string> Agreements);

/// <summary>An application opened.</summary>
/// <param name="Others">What else came from the same address, and what became of it.</param>
public sealed record ApplicationView(ApplicationRecord Record, string Agreement, string Country, IReadOnlyList<Answered> Answers, KnownFigures? Known, IReadOnlyList<ApplicationRow> Others);

/// <summary>Reads applications, the oldest that wait first.</summary>
public sealed class ApplicationQueue(BookDbContext db, BookCache cache, ApplicationDecisions decisions) : IUseCase
{
    public const int PageSize = 100;

    /// <param name="after">The last id of the page before; null for the first.</param>
    /// <returns>A page, and where the next begins; null where there is none.</returns>
    public (IReadOnlyList<ApplicationRow> Rows, int? Next) Find(QueueShows shows, int? after)
    {
        var rows = shows switch
        {
            QueueShows.Waiting => Of(ApplicationState.Waiting, after, false),
            QueueShows.AskedBack => Of(ApplicationState.AskedBack, after, false),
            _ => [.. Of(ApplicationState.Approved, after, true).Concat(Of(ApplicationState.Declined, after, true)).OrderByDescending(a => a.Id).Take(PageSize + 1)],
        };
        return ([.. Rows(rows.Take(PageSize))], rows.Length > PageSize ? rows[PageSize - 1].Id : null);
    }

    public int Count(ApplicationState state) => db.Applications.Count(a => a.State == state);

    /// <returns>Null where there is none whose address is confirmed.</returns>
    public ApplicationView? Open(int id)
    {
        if (db.Applications.AsNoTracking().FirstOrDefault(a => a.Id == id && a.State != ApplicationState.Unconfirmed) is not { } record) return null;
        var others = db.Applications.AsNoTracking().Where(a => a.Email == record.Email && a.Id != id && a.State != ApplicationState.Unconfirmed).OrderByDescending(a => a.Id).Take(20).ToArray();
        return new ApplicationView(record, cache.Get(db).AgreementName(record.AgreementId), Countries.Name(record.Country), JsonSerializer.Deserialize<Answered[]>(record.Answers)!, Known(record), [.. Rows(others)]);
    }

    private ApplicationRecord[] Of(ApplicationState state, int? after, bool latestFirst)
    {
        var of = db.Applications.AsNoTracking().Where(a => a.State == state);
        return latestFirst ? [.. of.Where(a => after == null || a.Id < after).OrderByDescending(a => a.Id).Take(PageSize + 1)] : [.. of.Where(a => after == null || a.Id > after).OrderBy(a => a.Id).Take(PageSize + 1)];
    }

    private IEnumerable<ApplicationRow> Rows(IEnumerable<ApplicationRecord> records)
    {
        var (book, all) = (cache.Get(db), records.ToArray());
        var emails = all.Select(a => a.Email).ToHashSet();
        var known = db.Payees.AsNoTracking().Where(p => p.Email != null && emails.Contains(p.Email.ToLower())).Select(p => new { p.Email, p.Name, p.Position }).AsEnumerable()
            .GroupBy(p => p.Email!.ToLowerInvariant()).ToDictionary(g => g.Key, g => g.MinBy(p => p.Position)!.Name);
        return all.Select(a => new ApplicationRow(a.Id, a.AskedAt, a.Name, a.Email, Countries.Name(a.Country), book.AgreementName(a.AgreementId), known.GetValueOrDefault(a.Email), a.State, a.DecidedBy));
    }

    private KnownFigures? Known(ApplicationRecord record)
    {
        if (decisions.PayeeOf(record) is not { } payee) return null;
        var book = cache.Get(db);
        var sales = db.SalesSums.AsNoTracking().Where(s => s.BroughtBy == payee.Id).GroupBy(s => new { s.Currency, s.IsRefunded })
            .Select(g => new { g.Key.Currency, g.Key.IsRefunded, Orders = g.Sum(s => s.Orders), Charged = g.Sum(s => s.Charged) }).ToArray();
        var earned = db.EntrySums.AsNoTracking().Where(s => s.Payee == payee.Id).GroupBy(s => new { s.Currency, s.IsReversal }).Select(g => new { g.Key.Currency, g.Key.IsReversal, Sum = g.Sum(s => s.Amount) }).ToArray();
        var ofOrders = RefundShare.Of(sales.Where(s => s.IsRefunded).Sum(s => s.Orders), sales.Sum(s => s.Orders));
        var ofMoney = earned.GroupBy(e => e.Currency).Select(g => RefundShare.Of(-g.Where(e => e.IsReversal).Sum(e => e.Sum), g.Where(e => !e.IsReversal).Sum(e => e.Sum))).DefaultIfEmpty(Rate.Zero).MaxBy(r => r.Millionths);
        var limit = book.Record.RefundLimit;
        return new KnownFigures(
            payee.Id, payee.Name, payee.ActiveFrom, sales.Sum(s => s.Orders), [.. sales.GroupBy(s => s.Currency).OrderBy(g => g.Key, StringComparer.Ordinal).Select(g => new Money(g.Sum(s => s.Charged), Currency.Of(g.Key)))],
            ofOrders, ofMoney, ofOrders.Millionths > limit.Millionths || ofMoney.Millionths > limit.Millionths, db.TrustedPayees.Any(t => t.Payee == payee.Id),
            [.. db.Memberships.AsNoTracking().Where(m => m.PayeeId == payee.Id && m.To == null).Select(m => m.AgreementId).Distinct().AsEnumerable().Select(book.AgreementName).Order(StringComparer.Ordinal)]);
    }
}
