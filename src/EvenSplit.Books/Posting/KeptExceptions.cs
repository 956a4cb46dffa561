using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Posting;

/// <summary>The exceptions of orders as rows, and which of them a person has let stand.</summary>
/// <param name="orders">Keys of orders of the book whose exceptions may change.</param>
internal sealed class KeptExceptions(BookDbContext db, IReadOnlyCollection<long> orders)
{
    private readonly ILookup<long, OrderExceptionRecord> _held = Held(db, orders);
    /// <summary>What may stand counts no more.</summary>
    private readonly ILookup<long, (ExceptionCode Code, string Line, string Payee)> _accepted = Accepted(db, orders);
    private readonly List<long> _gone = [];
    private readonly List<OrderExceptionRecord> _come = [];

    public static OrderExceptionRecord[] Of(OrderRecord order, OrderOutcome outcome) =>
    [
        .. outcome.Exceptions.Select(e => About(order, new OrderExceptionRecord { Code = e.Code, LineId = e.Line?.Value, Payee = e.Payee?.Value })),
        .. outcome.OffPlan.Select(f => OffPlan(order, f)),
        .. outcome.CodesWithoutEffect.Select(p => About(order, new OrderExceptionRecord { Code = ExceptionCode.CodeWithoutEffect, Payee = p.Value })),
    ];

    public static OrderExceptionRecord OffPlan(OrderRecord order, PriceFinding finding) => About(order, new OrderExceptionRecord
    {
        Code = ExceptionCode.PriceOffPlan,
        LineId = finding.Line.Value,
        Price = finding.Fault,
        Expected = finding.Expected,
        Actual = finding.Actual,
    });

    /// <summary>What makes exceptions alike: what clears one of them clears all.</summary>
    private static OrderExceptionRecord About(OrderRecord order, OrderExceptionRecord raised)
    {
        (raised.OrderId, raised.Period) = (order.Id, order.Period);
        raised.Subject = raised.Code switch
        {
            ExceptionCode.FeeMissing => order.Processor ?? "",
            ExceptionCode.RateMissing => order.Currency,
            ExceptionCode.OverCommitted or ExceptionCode.PriceOffPlan => order.CurrentLines.FirstOrDefault(l => l.LineId == raised.LineId)?.Product ?? "",
            ExceptionCode.SelfReferral or ExceptionCode.PayeeInactive or ExceptionCode.CodeWithoutEffect => raised.Payee ?? "",
            _ => "",
        };
        return raised;
    }

    /// <summary>Whether nobody has let an exception stand.</summary>
    public static bool IsOpen(OrderExceptionRecord exception, IEnumerable<(ExceptionCode Code, string Line, string Payee)> accepted) =>
        !accepted.Contains((exception.Code, exception.LineId ?? "", exception.Payee ?? ""));

    /// <summary>Looks anew which of an order's exceptions somebody has let stand.</summary>
    /// <returns>How many are open.</returns>
    public int LookAgain(long order)
    {
        var raised = Marked(order, [.. _held[order].Select(Copy)]);
        Replace(order, raised);
        return raised.Count(e => e.IsOpen);
    }

    /// <summary>What an order raises, and whether somebody has let it stand. May be asked from several threads.</summary>
    public OrderExceptionRecord[] Raised(OrderRecord order, OrderOutcome outcome) => Marked(order.Id, Of(order, outcome));

    private OrderExceptionRecord[] Marked(long order, OrderExceptionRecord[] raised)
    {
        foreach (var exception in raised) exception.IsOpen = IsOpen(exception, _accepted[order]);
        return raised;
    }

    /// <summary>Puts what an order raises now in the place of what it raised before.</summary>
    public void Replace(long order, OrderExceptionRecord[] raised)
    {
        if (!raised.Select(Says).SequenceEqual(_held[order].Select(Says)))
        {
            if (_held[order].Any()) _gone.Add(order);
            _come.AddRange(raised);
        }
    }

    private static OrderExceptionRecord Copy(OrderExceptionRecord e) => new()
    {
        OrderId = e.OrderId,
        Code = e.Code,
        LineId = e.LineId,
        Payee = e.Payee,
        Price = e.Price,
        Expected = e.Expected,
        Actual = e.Actual,
        Period = e.Period,
        Subject = e.Subject,
    };

    public void Save()
    {
        if (_gone.Count > 0) db.OrderExceptions.Where(e => _gone.Contains(e.OrderId)).ExecuteDelete();
        if (_come.Count == 0) return;
        var next = (db.OrderExceptions.Max(e => (long?)e.Id) ?? 0) + 1;
        foreach (var exception in _come) exception.Id = next++;
        using var writer = BulkWriter<OrderExceptionRecord>.Inserting(db);
        writer.Write(_come);
    }

    private static ILookup<long, OrderExceptionRecord> Held(BookDbContext db, IReadOnlyCollection<long> orders) =>
        orders.Count == 0
            ? Enumerable.Empty<OrderExceptionRecord>().ToLookup(e => e.OrderId)
            : BulkReader<OrderExceptionRecord>.Read(db, "OrderId", orders, "Id").ToLookup(e => e.OrderId);

    private static ILookup<long, (ExceptionCode Code, string Line, string Payee)> Accepted(BookDbContext db, IReadOnlyCollection<long> orders) =>
        (orders.Count == 0 ? [] : db.AcceptedExceptions.AsNoTracking().Where(a => orders.Contains(a.OrderId)).ToArray()).ToLookup(a => a.OrderId, a => (a.Code, a.LineId, a.Payee));

    private static (ExceptionCode, string?, string?, PriceFault?, long?, long?, int, string, bool) Says(OrderExceptionRecord e) =>
        (e.Code, e.LineId, e.Payee, e.Price, e.Expected, e.Actual, e.Period, e.Subject, e.IsOpen);
}
