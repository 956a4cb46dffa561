using EvenSplit.Books.Forms;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Terms;

/// <summary>A leaderboard as typed.</summary>
public sealed record LeaderboardDraft
{
    public string Name { get; init; } = "";
    /// <summary>Whoever is on it takes part; empty for all affiliates.</summary>
    public string Agreement { get; init; } = "";
    public LeaderboardMeasure Measure { get; init; }
    public DateOnly? From { get; init; }
    public DateOnly? To { get; init; }
    public bool ShowsNames { get; init; }
}

/// <summary>Where somebody stands.</summary>
/// <param name="Figure">Minor units of the book's currency, or a number, as the measure has it.</param>
public sealed record LeaderboardPlace(int Rank, string PayeeId, string Payee, long Figure);

/// <summary>A leaderboard as the lead sees it.</summary>
/// <param name="Who">Who takes part, in words.</param>
/// <param name="Count">How many have a place; the first of them are listed.</param>
public sealed record LeaderboardView(int Id, string Name, string Who, LeaderboardMeasure Measure, string By, DateOnly From, DateOnly To, bool ShowsNames, DateTimeOffset? WorkedOutAt, int Count, IReadOnlyList<LeaderboardPlace> Places);

/// <summary>A leaderboard as one who takes part sees it.</summary>
/// <param name="Rank">Null while they have brought nothing.</param>
/// <param name="Figure">Their own.</param>
/// <param name="First">Rank and name of the first; empty where names are not shown.</param>
public sealed record OwnLeaderboard(string Name, string By, DateOnly From, DateOnly To, int? Rank, int Of, string Figure, IReadOnlyList<(int Rank, string Name)> First, DateTimeOffset AsOf);

/// <summary>
/// Leaderboards of campaigns. An order counts for whom it is attributed to, on the day it is paid in the book's zone; not while something of it is refunded, nor as a test. Sales are the goods, net of tax,
/// in the book's currency, other currencies at the rate of the last day that counts. Places are worked out by the side and are as of a time, so that no page adds orders up.
/// </summary>
public sealed class Leaderboards(BookDbContext db, BookCache cache, BookClock clock, AuditLog audit) : IUseCase
{
    /// <summary>For so many days after its end a board is kept in step with late orders and refunds, and shown.</summary>
    private const int DaysAfter = 31;

    private const int MostListed = 50, MostNamed = 10, LongestDays = 400;

    /// <summary>How old places may be while orders come in.</summary>
    public static readonly TimeSpan Rest = TimeSpan.FromMinutes(10);

    public IReadOnlyList<LeaderboardView> List()
    {
        var book = cache.Get(db);
        return [.. db.Leaderboards.AsNoTracking().OrderByDescending(b => b.Id).AsEnumerable().Select(b => new LeaderboardView(
            b.Id, b.Name, b.AgreementId is { } agreement ? $"whoever is on {book.AgreementName(agreement)}" : "all affiliates", b.Measure, By(b.Measure), b.From, b.To, b.ShowsNames, b.WorkedOutAt, db.LeaderboardPlaces.Count(p => p.BoardId == b.Id),
            [.. db.LeaderboardPlaces.AsNoTracking().Where(p => p.BoardId == b.Id).OrderBy(p => p.Rank).ThenBy(p => p.Payee).Take(MostListed).AsEnumerable().Select(p => new LeaderboardPlace(p.Rank, p.Payee, book.PayeeName(p.Payee), p.Figure))]))];
    }

    /// <summary>Those a payee takes part in that run, or ended lately.</summary>
    public IReadOnlyList<OwnLeaderboard> Of(string payeeId)
    {
        var (book, today) = (cache.Get(db), clock.Today);
        var earliest = today.AddDays(-DaysAfter);
        var own = new List<OwnLeaderboard>();
        foreach (var board in db.Leaderboards.AsNoTracking().Where(b => b.From <= today && b.To >= earliest && b.WorkedOutAt != null).OrderBy(b => b.To).AsEnumerable().Where(b => TakesPart(book, b, payeeId)))
        {
            var place = db.LeaderboardPlaces.AsNoTracking().FirstOrDefault(p => p.BoardId == board.Id && p.Payee == payeeId);
            var first = board.ShowsNames ? db.LeaderboardPlaces.AsNoTracking().Where(p => p.BoardId == board.Id && p.Rank <= MostNamed).OrderBy(p => p.Rank).ThenBy(p => p.Payee).Take(MostNamed).AsEnumerable().Select(p => (p.Rank, book.PayeeName(p.Payee))).ToArray() : [];
            own.Add(new OwnLeaderboard(board.Name, By(board.Measure), board.From, board.To, place?.Rank, db.LeaderboardPlaces.Count(p => p.BoardId == board.Id), Figure(board.Measure, place?.Figure ?? 0, book.Currency), first, board.WorkedOutAt!.Value));
        }
        return own;
    }

    /// <returns>The fields at fault; none where it was opened.</returns>
    public IReadOnlyList<FieldFault> Open(LeaderboardDraft draft, string by)
    {
        var fields = new FieldReader();
        var name = fields.Required("Name", draft.Name, "Give it a name; those who take part read it.");
        if (draft.Agreement.Length > 0 && cache.Get(db).Rules.FindAgreement(new AgreementId(draft.Agreement)) is null) fields.Refuse("Agreement", "Choose who takes part.");
        if (draft.From is null) fields.Refuse("From", "Say from which day.");
        if (draft.To is null) fields.Refuse("To", "Say until which day.");
        else if (draft.To < draft.From) fields.Refuse("To", "That is before it begins.");
        else if (draft.To > draft.From?.AddDays(LongestDays)) fields.Refuse("To", $"At most {LongestDays} days.");
        if (fields.Faults.Count > 0) return fields.Faults;
        db.Leaderboards.Add(new LeaderboardRecord { Name = name, AgreementId = draft.Agreement.Length > 0 ? draft.Agreement : null, Measure = draft.Measure, From = draft.From!.Value, To = draft.To!.Value, ShowsNames = draft.ShowsNames });
        audit.Note(by, "open a leaderboard", name);
        db.SaveChanges();
        return [];
    }

    public void TakeAway(int id, string by)
    {
        var board = db.Leaderboards.Known(b => b.Id == id);
        db.Leaderboards.Remove(board);
        audit.Note(by, "take a leaderboard away", board.Name);
        db.SaveChanges();
    }

    /// <summary>Works out the places of one board that is due: it is new, or something was posted since and it is older than <see cref="Rest"/>.</summary>
    /// <param name="now">By the book's clock.</param>
    /// <param name="lastChange">When something of the book that places follow from changed last, as it was noticed.</param>
    /// <returns>Whether there was one.</returns>
    public bool WorkOutNext(DateTimeOffset now, DateTimeOffset lastChange)
    {
        var (today, old) = (clock.Today, now - Rest);
        var earliest = today.AddDays(-DaysAfter);
        if (db.Leaderboards.Where(b => b.From <= today && (b.WorkedOutAt == null || (b.WorkedOutAt <= lastChange && b.WorkedOutAt < old && b.To >= earliest))).OrderBy(b => b.WorkedOutAt).FirstOrDefault() is not { } board) return false;
        WorkOut(board, now);
        return true;
    }

    private void WorkOut(LeaderboardRecord board, DateTimeOffset now)
    {
        var book = cache.Get(db);
        var (from, before) = (book.Time.StartOf(board.From), book.Time.StartOf(board.To.AddDays(1)));
        var (first, last) = (Period.Of(board.From).Number, Period.Of(board.To).Number);
        var ratesOn = board.To < clock.Today ? board.To : clock.Today;
        var found = db.Orders.AsNoTracking()
            .Where(o => o.AttributedTo != null && o.Period >= first && o.Period <= last && o.Status == OrderStatus.Calculated && !o.IsRefunded && !o.IsTest && o.PaidAt >= from && o.PaidAt < before)
            .Where(o => board.Measure != LeaderboardMeasure.NewCustomers || o.Customer == CustomerKind.New)
            .GroupBy(o => new { o.AttributedTo, o.Currency }).Select(g => new { Payee = g.Key.AttributedTo!, g.Key.Currency, Orders = g.LongCount(), Goods = g.Sum(o => o.GoodsNet) }).ToArray();
        long FigureOf(string currency, long orders, long goods) => board.Measure != LeaderboardMeasure.Sales ? orders : book.Rules.Rates.Convert(goods, Currency.Of(currency), book.Currency, ratesOn) ?? 0;
        var figures = found.GroupBy(f => f.Payee).Select(g => (Payee: g.Key, Figure: g.Sum(f => FigureOf(f.Currency, f.Orders, f.Goods)))).Where(f => f.Figure > 0 && TakesPart(book, board, f.Payee)).OrderByDescending(f => f.Figure).ThenBy(f => f.Payee, StringComparer.Ordinal).ToArray();
        using var transaction = db.Database.BeginTransaction();
        db.LeaderboardPlaces.Where(p => p.BoardId == board.Id).ExecuteDelete();
        for (var i = 0; i < figures.Length; i++)
        {
            var rank = i > 0 && figures[i].Figure == figures[i - 1].Figure ? board.Places[^1].Rank : i + 1;
            board.Places.Add(new LeaderboardPlaceRecord { BoardId = board.Id, Payee = figures[i].Payee, Rank = rank, Figure = figures[i].Figure });
        }
        board.WorkedOutAt = now;
        db.SaveChanges();
        transaction.Commit();
    }

    /// <summary>Whether somebody who has not left is on the agreement on some day of it; an affiliate, where it is for all.</summary>
    private bool TakesPart(OpenedBook book, LeaderboardRecord board, string payeeId)
    {
        if (book.Rules.FindPayee(new PayeeId(payeeId)) is not { } payee || payee.ActiveTo <= clock.Today) return false;
        return board.AgreementId is { } agreement ? payee.Memberships.Any(m => m.Agreement.Value == agreement && m.From <= board.To && (m.To is null || m.To > board.From)) : payee.Role == PayeeRole.Affiliate;
    }

    private static string By(LeaderboardMeasure measure) => measure switch
    {
        LeaderboardMeasure.Sales => "sales",
        LeaderboardMeasure.Orders => "orders",
        _ => "new customers",
    };

    private static string Figure(LeaderboardMeasure measure, long figure, Currency currency) => measure switch
    {
        LeaderboardMeasure.Sales => $"sales of {new Money(figure, currency).InWords()}",
        LeaderboardMeasure.Orders => MoneyWords.Count(figure, "order"),
        _ => MoneyWords.Count(figure, "new customer"),
    };
}
