using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.People;

/// <summary>How much of what came by a payee goes back.</summary>
/// <param name="Orders">Orders brought and paid in the months looked at, and how many of them were refunded.</param>
/// <param name="Earned">Of the months' entries, in one currency: earned, and taken back by refunds (positive).</param>
/// <param name="ByMonth">The share of money taken back, month by month, in millionths; null where nothing was earned.</param>
public sealed record RefundRateRow(
    string PayeeId, string Payee, long Orders, long Refunded, Money Earned, Money TakenBack, IReadOnlyList<long?> ByMonth, bool IsOver, bool IsOnHold)
{
    public Rate OfOrders => RefundShare.Of(Refunded, Orders);

    public Rate OfMoney => RefundShare.Of(TakenBack.Minor, Earned.Minor);
}

/// <summary>Refund rates of affiliates over some months, against a limit the lead sets; over it, a hold is proposed.</summary>
public sealed class RefundRates(BookDbContext db, BookCache cache, RulesChange rulesChange, AuditLog audit) : IUseCase
{
    /// <summary>Over so many months a payee is held against the limit, wherever that is told.</summary>
    public const int MonthsOfMarks = 6;

    /// <param name="months">How many months up to this one are looked at.</param>
    public IReadOnlyList<RefundRateRow> Find(Period last, int months)
    {
        var book = cache.Get(db);
        var all = Enumerable.Range(0, months).Select(i => Period.Of(last.FirstDay.AddMonths(-i))).Reverse().ToArray();
        var (from, to) = (all[0].Number, last.Number);
        var orders = db.SalesSums.AsNoTracking().Where(s => s.BroughtBy != "" && s.Period >= from && s.Period <= to && s.Orders > 0)
            .GroupBy(s => s.BroughtBy).Select(g => new { Payee = g.Key, Orders = g.Sum(s => s.Orders), Refunded = g.Sum(s => s.IsRefunded ? s.Orders : 0) }).ToDictionary(o => o.Payee);
        var sums = db.EntrySums.AsNoTracking().Where(s => s.Period >= from && s.Period <= to).AsEnumerable().ToLookup(s => s.Payee);
        var limit = book.Record.RefundLimit;
        return [.. book.Rules.Payees.Where(p => p.Role == PayeeRole.Affiliate && orders.ContainsKey(p.Id.Value)).SelectMany(p => sums[p.Id.Value].GroupBy(s => s.Currency).Select(g =>
        {
            var currency = Currency.Of(g.Key);
            long Sum(bool reversals, Period? month) => g.Where(s => s.IsReversal == reversals && (month is null || s.Period == month.Value.Number)).Sum(s => s.Amount);
            var known = orders[p.Id.Value];
            var row = new RefundRateRow(
                p.Id.Value, book.PayeeName(p.Id.Value), known.Orders, known.Refunded, new Money(Sum(false, null), currency), new Money(-Sum(true, null), currency),
                [.. all.Select(m => Sum(false, m) is > 0 and var earned ? (long?)RefundShare.Of(-Sum(true, m), earned).Millionths : null)], false, p.OnHold);
            return row with { IsOver = row.OfMoney.Millionths > limit.Millionths || row.OfOrders.Millionths > limit.Millionths };
        })).OrderByDescending(r => r.OfMoney).ThenByDescending(r => r.Orders)];
    }

    /// <summary>By payee, in words, who is over the limit in the half year that a month ends.</summary>
    public ILookup<string, string> Over(Period last) => Find(last, MonthsOfMarks).Where(r => r.IsOver)
        .ToLookup(r => r.PayeeId, r => $"{r.OfMoney.ToPercentText()} of the money and {r.OfOrders.ToPercentText()} of the orders of six months went back.");

    /// <exception cref="RefusedException">It is no percentage.</exception>
    public void SetLimit(string percent, string by)
    {
        var fields = new Forms.FieldReader();
        var limit = fields.Percent("Limit", percent);
        if (fields.Faults.Count > 0 || limit is null) throw new RefusedException("Give a percentage such as 10.", "Limit");
        var book = db.Book.Single();
        (book.RefundLimit, book.RulesVersion) = (limit.Value, book.RulesVersion + 1);
        audit.Note(by, "set refund limit", limit.Value.ToPercentText());
        db.SaveChanges();
    }

    /// <summary>Puts a payee on hold, so that runs pay nothing until they are let go on their own page.</summary>
    public void PutOnHold(string payee, string by)
    {
        using var change = rulesChange.Begin();
        db.Payees.Known(p => p.Id == payee).OnHold = true;
        audit.Note(by, "put on hold", $"{payee}: refund rate over the limit");
        change.Commit();
    }
}
