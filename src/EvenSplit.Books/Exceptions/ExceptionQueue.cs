using System.Text.Json;
using EvenSplit.Books.Model;
using EvenSplit.Books.Posting;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Exceptions;

/// <summary>One exception of an order in the queue.</summary>
/// <param name="Says">What is off, where the price audit found it; else empty.</param>
public sealed record QueuedException(long OrderKey, string OrderId, DateOnly On, Money Charged, string LineId, string Payee, string Says);

/// <summary>What makes exceptions alike.</summary>
/// <param name="Subject">The processor, currency, product or payee they are about; empty where each order is its own.</param>
public readonly record struct ExceptionCause(ExceptionCode Code, string Subject);

/// <summary>Exceptions with one cause: what clears one of them clears all.</summary>
/// <param name="Shown">The first of them.</param>
public sealed record CauseOfExceptions(
    ExceptionCause Cause, string Says, int Count, IReadOnlyList<QueuedException> Shown, string AssignedTo, IReadOnlyList<CauseNoteRecord> Notes);

/// <summary>One queue of the exceptions of a month, by cause, and what a person does about them.</summary>
public sealed class ExceptionQueue(BookDbContext db, BookCache cache, BookClock clock, AuditLog audit) : IUseCase
{
    private const int MostShown = 50, MostStanding = 200;

    public IReadOnlyList<CauseOfExceptions> Find(Period period)
    {
        var book = cache.Get(db);
        var notes = db.CauseNotes.AsNoTracking().OrderBy(n => n.Id).AsEnumerable().ToLookup(n => new ExceptionCause(n.Code, n.Subject));
        var counts = Open(period).GroupBy(e => new { e.Code, e.Subject }).Select(g => new { g.Key.Code, g.Key.Subject, Count = g.Count() }).ToArray();
        // The first of each cause by the index, however many there are of it.
        var causes = JsonSerializer.Serialize(counts.Select(c => new object[] { (int)c.Code, c.Subject }));
        var first = db.OrderExceptions.FromSql(
            $"""
            SELECT e.* FROM json_each({causes}) c CROSS JOIN OrderExceptions e ON e.Id IN (
                SELECT Id FROM OrderExceptions WHERE Period = {period.Number} AND IsOpen AND Code = c.value ->> 0 AND Subject = c.value ->> 1 ORDER BY OrderId, Id LIMIT {MostShown})
            """).AsNoTracking().ToArray();
        var keys = first.Select(e => e.OrderId).Distinct().ToArray();
        var orders = db.Orders.AsNoTracking().Where(o => keys.Contains(o.Id)).ToDictionary(o => o.Id);
        var shown = first.ToLookup(CauseOf);
        return [.. counts.Select(c => (Cause: new ExceptionCause(c.Code, c.Subject), c.Count)).Select(c => new CauseOfExceptions(
            c.Cause, Says(book, c.Cause.Code, c.Cause.Subject, c.Count), c.Count,
            [.. shown[c.Cause].OrderBy(e => orders[e.OrderId].PlacedAt).ThenBy(e => e.OrderId).ThenBy(e => e.Id).Select(e => Queued(book, e, orders[e.OrderId]))],
            notes[c.Cause].LastOrDefault(n => n.AssignedTo.Length > 0)?.AssignedTo ?? "", [.. notes[c.Cause]])).OrderBy(c => c.Cause.Code).ThenByDescending(c => c.Count)];
    }

    /// <summary>Lets exceptions of a cause stand as they are: those of the month, or one order's.</summary>
    /// <returns>How many that was.</returns>
    /// <exception cref="RefusedException">No reason is given.</exception>
    public int Accept(Period period, ExceptionCause cause, string? orderId, string reason, string by)
    {
        if (reason.Trim().Length == 0) throw new RefusedException("Say why it may stand; an auditor will ask.", "Reason");
        using var transaction = db.Database.BeginTransaction();
        var accepted = Open(period).Where(e => e.Code == cause.Code && e.Subject == cause.Subject && (orderId == null || db.Orders.Any(o => o.Id == e.OrderId && o.OrderId == orderId))).ToArray();
        // A line may be off its plan in two ways; one word lets both stand.
        db.AcceptedExceptions.AddRange(accepted.DistinctBy(e => (e.OrderId, e.Code, e.LineId, e.Payee)).Select(e => new AcceptedExceptionRecord
        {
            OrderId = e.OrderId,
            Code = e.Code,
            LineId = e.LineId ?? "",
            Payee = e.Payee ?? "",
            Reason = reason.Trim(),
            By = by,
            At = clock.GetUtcNow(),
        }));
        audit.Note(by, "accept exceptions", $"{cause.Code} {cause.Subject}, {MoneyWords.Count(accepted.Length, "exception")}: {reason.Trim()}");
        db.SaveChanges();
        new OrderPosting(db, cache.Get(db), clock.Today).CountExceptions([.. accepted.Select(e => e.OrderId).Distinct()]);
        transaction.Commit();
        return accepted.Length;
    }

    /// <summary>What was let stand in a month, with its reason; the latest first.</summary>
    public IReadOnlyList<(AcceptedExceptionRecord Accepted, string OrderId)> Standing(Period period) => [.. db.AcceptedExceptions.AsNoTracking()
        .Select(a => new { Accepted = a, OrderId = db.Orders.Where(o => o.Id == a.OrderId && o.Period == period.Number).Select(o => o.OrderId).FirstOrDefault() }).Where(a => a.OrderId != null)
        .OrderByDescending(a => a.Accepted.At).ThenBy(a => a.OrderId).Take(MostStanding).AsEnumerable().Select(a => (a.Accepted, a.OrderId!))];

    /// <summary>Opens an exception again that was let stand.</summary>
    /// <exception cref="RefusedException">It is open already.</exception>
    public void Reopen(string orderId, ExceptionCode code, string lineId, string payee, string by)
    {
        using var transaction = db.Database.BeginTransaction();
        var accepted = db.AcceptedExceptions.FirstOrDefault(a => a.Code == code && a.LineId == lineId && a.Payee == payee && db.Orders.Any(o => o.Id == a.OrderId && o.OrderId == orderId)) ?? throw new RefusedException("It is open already.");
        db.AcceptedExceptions.Remove(accepted);
        audit.Note(by, "open an exception again", $"{code} of {orderId}, let stand by {accepted.By}: {accepted.Reason}");
        db.SaveChanges();
        new OrderPosting(db, cache.Get(db), clock.Today).CountExceptions([accepted.OrderId]);
        transaction.Commit();
    }

    /// <summary>Comments on a cause, gives it to somebody, or both.</summary>
    /// <exception cref="RefusedException">Neither is said.</exception>
    public void Note(ExceptionCause cause, string text, string assignTo, string by)
    {
        if (text.Trim().Length + assignTo.Length == 0) throw new RefusedException("Write a comment, or choose whom it is given to.", "Comment");
        db.CauseNotes.Add(new CauseNoteRecord { Code = cause.Code, Subject = cause.Subject, Text = text.Trim(), AssignedTo = assignTo, By = by, At = clock.GetUtcNow() });
        db.SaveChanges();
    }

    /// <summary>Everybody who can be given something, by the name they are shown with.</summary>
    public IReadOnlyList<string> People() => [.. db.Users.Select(u => u.DisplayName).OrderBy(n => n)];

    private IQueryable<OrderExceptionRecord> Open(Period period) => db.OrderExceptions.AsNoTracking().Where(e => e.Period == period.Number && e.IsOpen);

    private static ExceptionCause CauseOf(OrderExceptionRecord raised) => new(raised.Code, raised.Subject);

    private static string Says(OpenedBook book, ExceptionCode code, string subject, int count) => code switch
    {
        ExceptionCode.FeeMissing => $"The processor {subject} has no fee schedule, and no fee came with {MoneyWords.Count(count, "order")}.",
        ExceptionCode.RateMissing => $"An exchange rate to or from {subject} is missing.",
        ExceptionCode.OverCommitted => $"More of {book.ProductName(subject)} is given away than it brought in.",
        ExceptionCode.PriceOffPlan => $"{book.ProductName(subject)} was sold off its plan.",
        ExceptionCode.SelfReferral => $"{book.PayeeName(subject)} would have earned on orders of their own.",
        ExceptionCode.CodeWithoutEffect => $"A code of {book.PayeeName(subject)} was used while it was not in force, or while they were on no referral agreement: nothing was earned by it.",
        ExceptionCode.PayeeInactive => $"{book.PayeeName(subject)} brought orders while not active.",
        _ => "A refund asked for more than was left of its order; the part beyond was dropped.",
    };

    private static QueuedException Queued(OpenedBook book, OrderExceptionRecord raised, OrderRecord order)
    {
        var currency = Currency.Of(order.Currency);
        return new QueuedException(
            order.Id, order.OrderId, book.Time.DateOf(order.PaidAt ?? order.PlacedAt), new Money(order.Charged, currency), raised.LineId ?? "", raised.Payee is { } payee ? book.PayeeName(payee) : "",
            raised.Price is { } fault ? PriceWords.Finding(new PriceFinding(new LineId(raised.LineId!), fault, raised.Expected, raised.Actual), currency) : "");
    }
}
