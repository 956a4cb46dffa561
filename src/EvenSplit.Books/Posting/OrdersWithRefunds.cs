using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Posting;

/// <summary>Orders of a book with their refunds, many at a time. For reading only.</summary>
internal sealed class OrdersWithRefunds(IDbContextFactory<BookDbContext> books)
{
    private const int BatchSize = 4000;
    private const int Readers = 2;

    /// <summary>Reads ahead while what was read is worked on.</summary>
    /// <param name="keys">Of orders, ascending.</param>
    public IEnumerable<IReadOnlyList<(long Key, Order Order, IReadOnlyList<Refund> Refunds)>> InBatches(long[] keys) =>
        keys.Chunk(BatchSize).AsParallel().AsOrdered().WithDegreeOfParallelism(Readers).WithMergeOptions(ParallelMergeOptions.NotBuffered).Select(Read);

    private IReadOnlyList<(long Key, Order Order, IReadOnlyList<Refund> Refunds)> Read(long[] keys)
    {
        using var own = books.CreateDbContext();
        var (first, last) = (keys[0], keys[^1]);
        var refunds = own.Refunds.AsNoTracking().Include(r => r.Lines).Where(r => r.OrderId >= first && r.OrderId <= last).OrderBy(r => r.Id).ToLookup(r => r.OrderId);
        return [.. new OrdersInBulk(own).Read(keys).Select(o => (o.Key, o.Order, (IReadOnlyList<Refund>)[.. refunds[o.Key].Select(r => OrderFacts.ToRefund(r, o.Order.Id))]))];
    }
}
