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

    private void Run(int id, CancellationToken cancellation)
    {
        while (!cancellation.IsCancellationRequested)
        {
            db.ChangeTracker.Clear();
            using var transaction = db.Database.BeginTransaction();
            var recalculation = db.Recalculations.Single(r => r.Id == id);
            var book = cache.Get(db);
            var affected = db.TouchedBy(recalculation.Touched).Where(o => o.Id > recalculation.LastOrderId);
            if (recalculation.Total == 0) recalculation.Total = affected.Count();
            var keys = affected.OrderBy(o => o.Id).Select(o => o.Id).Take(BatchSize).ToArray();
            if (keys.Length == 0) recalculation.IsFinished = true;
            else recalculation.LastOrderId = keys[^1];
            recalculation.Done += keys.Length;
            recalculation.Changed += new OrderPosting(db, book, clock.Today).Recalculate(keys);
            db.SaveChanges();
            transaction.Commit();
            if (recalculation.IsFinished) return;
        }
    }
}
