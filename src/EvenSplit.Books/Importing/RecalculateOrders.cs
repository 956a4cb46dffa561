using EvenSplit.Books.Model;
using EvenSplit.Books.Posting;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Importing;

/// <summary>Works orders out again after a rule has changed, a few hundred at a time; stopped anywhere, it goes on from there.</summary>
public sealed class RecalculateOrders(BookDbContext db, BookCache cache, BookClock clock) : IUseCase
{
    private const int BatchSize = 300;

    /// <summary>The recalculation that is under way or waits; null when every order is worked out by today's rules.</summary>
    public RecalculationRecord? Next() => db.Recalculations.AsNoTracking().Where(r => !r.IsFinished).OrderBy(r => r.Id).FirstOrDefault();

    /// <summary>The one that finished last.</summary>
    public RecalculationRecord? Last() => db.Recalculations.AsNoTracking().Where(r => r.IsFinished).OrderByDescending(r => r.Id).FirstOrDefault();

    public void RunAll(CancellationToken cancellation = default)
    {
        while (Next() is { } next) Run(next.Id, cancellation);
    }

    /// <summary>Asks for orders to be worked out again, whatever the rules; inside the caller's transaction.</summary>
    internal static void Ask(BookDbContext db, IQueryable<OrderRecord> orders)
    {
        var recalculation = new RecalculationRecord { Touched = [], IsListed = true };
        db.Recalculations.Add(recalculation);
        db.SaveChanges();
        recalculation.Total = List(db, recalculation.Id, orders);
        db.SaveChanges();
    }

    private void Run(int id, CancellationToken cancellation)
    {
        var size = BatchSize;
        while (!cancellation.IsCancellationRequested)
        {
            db.ChangeTracker.Clear();
            try
            {
                if (!Take(id, size)) return;
                size = BatchSize;
            }
            catch (Exception failure) when (failure is not OperationCanceledException && !ReadImport.MayPass(failure))
            {
                // One order must not hold up all others: by themselves they show which it is.
                if (size == 1) PassOver(id, failure);
                size = 1;
            }
        }
    }

    /// <returns>False once nothing waits any more.</returns>
    private bool Take(int id, int size)
    {
        using var transaction = db.Database.BeginTransaction();
        var recalculation = db.Recalculations.Single(r => r.Id == id);
        if (!recalculation.IsListed) List(recalculation);
        var batch = db.RecalculationOrders.AsNoTracking().Where(o => o.RecalculationId == id).OrderBy(o => o.At).ThenBy(o => o.OrderId).Take(size).ToArray();
        if (batch.Length == 0) recalculation.IsFinished = true;
        foreach (var taken in batch) db.RecalculationOrders.Remove(taken);
        recalculation.Done += batch.Length;
        recalculation.Changed += new OrderPosting(db, cache.Get(db), clock.Today).Recalculate([.. batch.Select(o => o.OrderId)]);
        db.SaveChanges();
        transaction.Commit();
        return !recalculation.IsFinished;
    }

    private void PassOver(int id, Exception failure)
    {
        db.ChangeTracker.Clear();
        var recalculation = db.Recalculations.Single(r => r.Id == id);
        var first = db.RecalculationOrders.Where(o => o.RecalculationId == id).OrderBy(o => o.At).ThenBy(o => o.OrderId).First();
        db.RecalculationOrders.Remove(first);
        recalculation.Done++;
        recalculation.Faults += $"Order {db.Orders.Where(o => o.Id == first.OrderId).Select(o => o.OrderId).Single()}: {WhyNot.WorkedOut(failure)}\n";
        db.SaveChanges();
    }

    /// <summary>Finds the orders once; what comes later is worked out by today's rules anyway.</summary>
    private void List(RecalculationRecord recalculation)
    {
        foreach (var touched in recalculation.Touched) List(db, recalculation.Id, db.TouchedBy(touched));
        recalculation.Total = db.RecalculationOrders.LongCount(o => o.RecalculationId == recalculation.Id);
        recalculation.IsListed = true;
    }

    private static int List(BookDbContext db, int id, IQueryable<OrderRecord> orders)
    {
        using var writer = BulkWriter<RecalculationOrderRecord>.Replacing(db);
        return writer.Write(orders.Select(o => new { o.Id, o.PaidAt, o.PlacedAt }).ToArray()
            .Select(o => new RecalculationOrderRecord { RecalculationId = id, At = o.PaidAt ?? o.PlacedAt, OrderId = o.Id }));
    }
}
