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
    private const int MostShown = 50;

    public IReadOnlyList<CauseOfExceptions> Find(Period period)
    {
        var book = cache.Get(db);
        var notes = db.CauseNotes.AsNoTracking().OrderBy(n => n.Id).AsEnumerable().ToLookup(n => new ExceptionCause(n.Code, n.Subject));
        return [.. Open(period).GroupBy(e => CauseOf(e)).Select(g =>
        {
            var first = g.First();
            return new CauseOfExceptions(
                g.Key, Says(book, g.Key.Code, g.Key.Subject, g.Count()), g.Count(),
                [.. g.Take(MostShown).Select(e => Queued(book, e))], notes[g.Key].LastOrDefault(n => n.AssignedTo.Length > 0)?.AssignedTo ?? "", [.. notes[g.Key]]);
        }).OrderBy(c => c.Cause.Code).ThenByDescending(c => c.Count)];
    }

    /// <summary>Lets exceptions of a cause stand as they are: those of the month, or one order's.</summary>
    /// <returns>How many that was.</returns>
    /// <exception cref="RefusedException">No reason is given.</exception>
    public int Accept(Period period, ExceptionCause cause, string? orderId, string reason, string by)
    {
        if (reason.Trim().Length == 0) throw new RefusedException("Say why it may stand; an auditor will ask.", "Reason");
        using var transaction = db.Database.BeginTransaction();
        var accepted = Open(period).Where(e => CauseOf(e) == cause && (orderId is null || e.Order.OrderId == orderId)).ToArray();
        // A line may be off its plan in two ways; one word lets both stand.
        db.AcceptedExceptions.AddRange(accepted.DistinctBy(e => (e.Order.Id, e.Exception.Code, e.Exception.LineId, e.Exception.Payee)).Select(e => new AcceptedExceptionRecord
        {
            OrderId = e.Order.Id,
            Code = e.Exception.Code,
            LineId = e.Exception.LineId ?? "",
            Payee = e.Exception.Payee ?? "",
            Reason = reason.Trim(),
            By = by,
            At = clock.GetUtcNow(),
        }));
        audit.Note(by, "accept exceptions", $"{cause.Code} {cause.Subject}, {MoneyWords.Count(accepted.Length, "exception")}: {reason.Trim()}");
        db.SaveChanges();
        new OrderPosting(db, cache.Get(db), clock.Today).CountExceptions([.. accepted.Select(e => e.Order.Id).Distinct()]);
        transaction.Commit();
        return accepted.Length;
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

    private sealed record Raised(OrderExceptionRecord Exception, OrderRecord Order, string Product);

    private List<Raised> Open(Period period) => [.. (
        from order in db.Orders.AsNoTracking()
        where order.Period == period.Number && order.Exceptions > 0
        join exception in db.OrderExceptions.AsNoTracking() on order.Id equals exception.OrderId
        where !db.AcceptedExceptions.Any(a => a.OrderId == order.Id && a.Code == exception.Code && a.LineId == (exception.LineId ?? "") && a.Payee == (exception.Payee ?? ""))
        orderby order.PlacedAt, order.Id
        select new { exception, order, Product = db.OrderLines.Where(l => l.OrderId == order.Id && l.LineId == exception.LineId && l.Position != null).Select(l => l.Product).FirstOrDefault() })
        .AsEnumerable().Select(e => new Raised(e.exception, e.order, e.Product ?? ""))];

    private static ExceptionCause CauseOf(Raised raised) => new(raised.Exception.Code, Subject(raised));

    private static string Subject(Raised raised) => raised.Exception.Code switch
    {
        ExceptionCode.FeeMissing => raised.Order.Processor ?? "",
        ExceptionCode.RateMissing => raised.Order.Currency,
        ExceptionCode.OverCommitted or ExceptionCode.PriceOffPlan => raised.Product,
        ExceptionCode.SelfReferral or ExceptionCode.PayeeInactive => raised.Exception.Payee ?? "",
        _ => "",
    };

    private static string Says(OpenedBook book, ExceptionCode code, string subject, int count) => code switch
    {
        ExceptionCode.FeeMissing => $"The processor {subject} has no fee schedule, and no fee came with {MoneyWords.Count(count, "order")}.",
        ExceptionCode.RateMissing => $"An exchange rate to or from {subject} is missing.",
        ExceptionCode.OverCommitted => $"More of {book.ProductName(subject)} is given away than it brought in.",
        ExceptionCode.PriceOffPlan => $"{book.ProductName(subject)} was sold off its plan.",
        ExceptionCode.SelfReferral => $"{book.PayeeName(subject)} would have earned on orders of their own.",
        ExceptionCode.PayeeInactive => $"{book.PayeeName(subject)} brought orders while not active, or on no agreement.",
        _ => "A refund asked for more than was left of its order; the part beyond was dropped.",
    };

    private static QueuedException Queued(OpenedBook book, Raised raised)
    {
        var currency = Currency.Of(raised.Order.Currency);
        return new QueuedException(
            raised.Order.Id, raised.Order.OrderId, book.Time.DateOf(raised.Order.PaidAt ?? raised.Order.PlacedAt), new Money(raised.Order.Charged, currency), raised.Exception.LineId ?? "",
            raised.Exception.Payee is { } payee ? book.PayeeName(payee) : "",
            raised.Exception.Price is { } fault ? PriceWords.Finding(new PriceFinding(new LineId(raised.Exception.LineId!), fault, raised.Exception.Expected, raised.Exception.Actual), currency) : "");
    }
}
