using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Posting;

/// <summary>The exceptions of orders as rows, and which of them a person has let stand.</summary>
internal static class KeptExceptions
{
    /// <summary>By order key, what may stand: it counts no more.</summary>
    public static ILookup<long, (ExceptionCode Code, string Line, string Payee)> Accepted(BookDbContext db, IReadOnlyCollection<long> orders) =>
        db.AcceptedExceptions.AsNoTracking().Where(a => orders.Contains(a.OrderId)).AsEnumerable().ToLookup(a => a.OrderId, a => (a.Code, a.LineId, a.Payee));

    public static IEnumerable<OrderExceptionRecord> Of(long orderKey, OrderOutcome outcome) =>
        outcome.Exceptions.Select(e => new OrderExceptionRecord { OrderId = orderKey, Code = e.Code, LineId = e.Line?.Value, Payee = e.Payee?.Value })
            .Concat(outcome.OffPlan.Select(f => new OrderExceptionRecord
            {
                OrderId = orderKey,
                Code = ExceptionCode.PriceOffPlan,
                LineId = f.Line.Value,
                Price = f.Fault,
                Expected = f.Expected,
                Actual = f.Actual,
            }));

    /// <summary>How many of an order's exceptions nobody has let stand.</summary>
    public static int Open(IEnumerable<OrderExceptionRecord> exceptions, IEnumerable<(ExceptionCode Code, string Line, string Payee)> accepted)
    {
        var mayStand = accepted.ToHashSet();
        return exceptions.Count(e => !mayStand.Contains((e.Code, e.LineId ?? "", e.Payee ?? "")));
    }
}
