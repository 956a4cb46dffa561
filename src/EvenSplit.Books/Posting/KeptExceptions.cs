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

    public static OrderExceptionRecord[] Of(long orderKey, OrderOutcome outcome) =>
    [
        .. outcome.Exceptions.Select(e => new OrderExceptionRecord { OrderId = orderKey, Code = e.Code, LineId = e.Line?.Value, Payee = e.Payee?.Value }),
        .. outcome.OffPlan.Select(f => OffPlan(orderKey, f)),
    ];

    public static OrderExceptionRecord OffPlan(long orderKey, PriceFinding finding) => new()
    {
        OrderId = orderKey,
        Code = ExceptionCode.PriceOffPlan,
        LineId = finding.Line.Value,
        Price = finding.Fault,
        Expected = finding.Expected,
        Actual = finding.Actual,
    };

    /// <summary>How many of a list of exceptions nobody has let stand.</summary>
    public static int Open(IEnumerable<OrderExceptionRecord> exceptions, IEnumerable<(ExceptionCode Code, string Line, string Payee)> accepted)
    {
        var mayStand = accepted.ToHashSet();
        return exceptions.Count(e => !mayStand.Contains((e.Code, e.LineId ?? "", e.Payee ?? "")));
    }

    /// <summary>How many of an order's exceptions are open, as the book has them.</summary>
    public int Open(long order) => Open(_held[order], _accepted[order]);

    /// <summary>Puts what an order raises now in the place of what it raised before.</summary>
    /// <returns>How many of them are open.</returns>
    public int Replace(long order, OrderOutcome outcome)
    {
        var raised = Of(order, outcome);
        if (!raised.Select(Says).SequenceEqual(_held[order].Select(Says)))
        {
            if (_held[order].Any()) _gone.Add(order);
            _come.AddRange(raised);
        }
        return Open(raised, _accepted[order]);
    }

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
        orders.Count == 0 ? Enumerable.Empty<OrderExceptionRecord>().ToLookup(e => e.OrderId) : db.OrderExceptions.AsNoTracking().Where(e => orders.Contains(e.OrderId)).OrderBy(e => e.Id).ToLookup(e => e.OrderId);

    private static ILookup<long, (ExceptionCode Code, string Line, string Payee)> Accepted(BookDbContext db, IReadOnlyCollection<long> orders) =>
        (orders.Count == 0 ? [] : db.AcceptedExceptions.AsNoTracking().Where(a => orders.Contains(a.OrderId)).ToArray()).ToLookup(a => a.OrderId, a => (a.Code, a.LineId, a.Payee));

    private static (ExceptionCode, string?, string?, PriceFault?, long?, long?) Says(OrderExceptionRecord e) => (e.Code, e.LineId, e.Payee, e.Price, e.Expected, e.Actual);
}
