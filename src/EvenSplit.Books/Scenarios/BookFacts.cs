using EvenSplit.Books.Model;
using EvenSplit.Books.Posting;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Scenarios;

/// <summary>The facts a book holds, to be worked out anew by somebody else: its rules as they are today, all that was sold, adjustments, and the runs that are locked.</summary>
public sealed class BookFacts(BookDbContext db, BookCache cache) : IUseCase
{
    private const int BatchSize = 4000;

    public Facts Read()
    {
        var bulk = new OrdersInBulk(db);
        var orders = db.Orders.OrderBy(o => o.Id).Select(o => o.Id).ToArray().Chunk(BatchSize).SelectMany(bulk.Read).ToArray();
        var ids = orders.ToDictionary(o => o.Key, o => o.Order.Id);
        var positions = db.Payees.AsNoTracking().ToDictionary(p => p.Id, p => p.Position);
        return new Facts(
            cache.Get(db).Rules,
            [.. orders.Select(o => o.Order)],
            [.. db.Refunds.AsNoTracking().Include(r => r.Lines).OrderBy(r => r.Id).AsEnumerable().Select(r => OrderFacts.ToRefund(r, ids[r.OrderId]))],
            [.. db.Adjustments.AsNoTracking().OrderBy(a => a.Id).AsEnumerable().Select(a => new Adjustment(a.Reference, new PayeeId(a.Payee), a.On, new Money(a.Amount, Currency.Of(a.Currency)), a.Note))],
            [.. db.PayRuns.AsNoTracking().Include(r => r.Remittances).Where(r => r.State != RunState.Gathering).AsEnumerable().OrderBy(r => r.AsOf).ThenBy(r => r.Id)
                .Select(r => new RunRequest(new RunId(r.Reference), r.AsOf, [.. r.Remittances.OrderBy(m => positions[m.Payee]).Select(m => new PayeeId(m.Payee))]))]);
    }
}
