using System.Text.Json;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Joining;

/// <summary>Which applications to show.</summary>
public enum QueueShows { Waiting, AskedBack, Decided }

/// <summary>An application in the list.</summary>
public sealed record ApplicationRow(int Id, DateTimeOffset AskedAt, string Name, string Email, string Country, string Agreement, string? KnownAs, ApplicationState State, string? DecidedBy);

/// <summary>An application opened.</summary>
/// <param name="Others">What else came from the same address, and what became of it.</param>
/// <param name="Bought">What they bought themselves, where the shop knows its buyers by their address; null where nothing.</param>
public sealed record ApplicationView(ApplicationRecord Record, string Agreement, string Country, IReadOnlyList<Answered> Answers, KnownFigures? Known, IReadOnlyList<ApplicationRow> Others, BuyerFigures? Bought);

/// <summary>What somebody bought.</summary>
/// <param name="Since">The day of their first order.</param>
public sealed record BuyerFigures(int Orders, DateOnly Since);

/// <summary>Reads applications, the oldest that wait first.</summary>
public sealed class ApplicationQueue(BookDbContext db, BookCache cache, ApplicationDecisions decisions, PayeeFigures figures) : IUseCase
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
        return new ApplicationView(record, cache.Get(db).AgreementName(record.AgreementId), Countries.Name(record.Country), JsonSerializer.Deserialize<Answered[]>(record.Answers)!, decisions.PayeeOf(record) is { } payee ? figures.Of(payee.Id) : null, [.. Rows(others)], Bought(record.Email));
    }

    private BuyerFigures? Bought(string email)
    {
        var own = db.Orders.Where(o => o.CustomerKey == email && o.Status == OrderStatus.Calculated).Select(o => o.PlacedAt).ToArray();
        return own.Length == 0 ? null : new BuyerFigures(own.Length, cache.Get(db).Time.DateOf(own.Min()));
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
}
