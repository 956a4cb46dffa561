using System.Diagnostics;
using EvenSplit.Books.Model;
using EvenSplit.Books.Posting;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Importing;

/// <summary>
/// Works orders out again after a rule has changed, a portion at a time: those of the open month first, then by the time of their payments. Portions are written
/// in one transaction with the recalculation's own progress until somebody else waits to write; stopped anywhere, it goes on from there.
/// </summary>
public sealed class RecalculateOrders(BookDbContext db, IDbContextFactory<BookDbContext> contexts, BookCache cache, BookClock clock, WriterQueue writers) : IUseCase
{
    private const int ListedAtOnce = 20_000;
    /// <summary>How long a portion should take: whoever comes to write meanwhile waits half of it on average.</summary>
    private static readonly TimeSpan Wanted = TimeSpan.FromMilliseconds(200);
    /// <summary>How long a turn takes where nobody is seen to wait: another process is not.</summary>
    private static readonly TimeSpan LongestTurn = TimeSpan.FromSeconds(2);
    /// <summary>How many entries a turn posts before it ends: what it writes waits in the log beside the database, which is to stay below 64 MB.</summary>
    private const int MostEntries = 30_000;
    /// <summary>After a failure so many portions have turns of their own, so that only the one that fails is undone.</summary>
    private const int AloneAfterFailure = 20;

    private (long Version, OpenedBook Book, KeptTracks Tracks)? _kept;

    /// <summary>How many orders a portion has at least and at most.</summary>
    internal (int Smallest, int Largest) Portion { get; set; } = (100, 4_000);

    /// <summary>The recalculation that is under way or waits; null when every order is worked out by today's rules.</summary>
    public RecalculationRecord? Next() => db.Recalculations.AsNoTracking().Where(r => !r.IsFinished).OrderBy(r => r.Id).FirstOrDefault();

    /// <summary>The one that finished last.</summary>
    public RecalculationRecord? Last() => db.Recalculations.AsNoTracking().Where(r => r.IsFinished).OrderByDescending(r => r.Id).FirstOrDefault();

    public void RunAll(CancellationToken cancellation = default)
    {
        while (Next() is { } next && !cancellation.IsCancellationRequested) Run(next.Id, cancellation);
    }

    private void Run(int id, CancellationToken cancellation)
    {
        // One connection throughout: it tells whether another has written in between.
        db.Database.OpenConnection();
        using var ahead = new OrdersAhead(contexts);
        try
        {
            Portions(id, ahead, cancellation);
        }
        finally
        {
            _kept = null;
            db.Database.CloseConnection();
        }
    }

    private void Portions(int id, OrdersAhead ahead, CancellationToken cancellation)
    {
        List(id, cancellation);
        var (size, alone) = (Portion.Smallest, 0);
        while (!cancellation.IsCancellationRequested)
        {
            try
            {
                if (!Turn(id, ahead, alone > 0, ref size, cancellation)) return;
                alone = Math.Max(0, alone - 1);
            }
            catch (Exception failure) when (failure is not OperationCanceledException && !ReadImport.MayPass(failure))
            {
                _kept = null;
                ahead.Forget();
                // One order must not hold up all others: by themselves they show which it is.
                if (alone > 0)
                {
                    if (size == 1) PassOver(id, failure);
                    size = Math.Max(1, size / 16);
                }
                alone = AloneAfterFailure;
            }
        }
    }

    /// <param name="isAlone">Whether the turn is over after one portion.</param>
    /// <param name="size">How many orders a portion has; what the next should have.</param>
    /// <returns>False once nothing waits any more.</returns>
    private bool Turn(int id, OrdersAhead ahead, bool isAlone, ref int size, CancellationToken cancellation)
    {
        using var transaction = db.Database.BeginTransaction();
        try
        {
            // From here on others wait; not while this waits for its own turn.
            var (turn, isFirst, goesOn, next) = (Stopwatch.StartNew(), true, true, size);
            var (waiting, numbers) = (new WaitingOrders(db, id, clock.Today), new EntryNumbers(db));
            do
            {
                var began = turn.Elapsed;
                db.ChangeTracker.Clear();
                goesOn = Take(db.Recalculations.Known(r => r.Id == id), waiting, numbers, ahead, next, isFirst);
                db.SaveChanges();
                isFirst = false;
                next = Math.Clamp((int)(next * (Wanted / (turn.Elapsed - began))), Portion.Smallest, Math.Min(Portion.Largest, LargestAfter(Math.Max(Portion.Smallest, next))));
            }
            while (goesOn && !isAlone && writers.Waiting == 0 && turn.Elapsed < LongestTurn && numbers.Taken < MostEntries && !cancellation.IsCancellationRequested);
            db.Alongside.Wait();
            // While anybody reads, the log beside the database cannot begin anew, and grows.
            ahead.Finish();
            transaction.Commit();
            // Only now is it known that nothing of the last portion was refused.
            size = next;
            return goesOn;
        }
        catch
        {
            db.Alongside.GiveUp();
            transaction.Rollback();
            throw;
        }
    }

    /// <summary>How many orders the portion after one of a size has at most, and how many are read ahead.</summary>
    private static int LargestAfter(int size) => size + size / 2;

    private bool Take(RecalculationRecord recalculation, WaitingOrders waiting, EntryNumbers numbers, OrdersAhead ahead, int size, bool isFirst)
    {
        var next = waiting.Next(size + LargestAfter(size));
        RecalculationOrderRecord[] portion = [.. next.Take(size)];
        if (portion.Length == 0) recalculation.IsFinished = true;
        waiting.Take(portion);
        recalculation.StartedAt ??= TimeProvider.System.GetUtcNow();
        recalculation.Done += portion.Length;
        var book = cache.Get(db);
        var version = db.Database.SqlQuery<long>($"SELECT data_version AS Value FROM pragma_data_version").Single();
        var held = ahead.Take(db, [.. portion.Select(o => o.OrderId)], version);
        ahead.Begin([.. next.Skip(size).Select(o => o.OrderId)], version, isFirst);
        var posting = new OrderPosting(db, book, clock.Today, Tracks(book, version), numbers, alongside: true);
        recalculation.Changed += posting.Recalculate(held);
        ahead.Written(posting.WorkedOut);
        if (posting.Posted is { } posted && recalculation.Words.Length > 0)
        {
            db.PostingCauses.Add(new PostingCauseRecord { FirstEntry = posted.First, LastEntry = posted.Last, Words = recalculation.Words, By = recalculation.By, At = clock.GetUtcNow() });
        }
        return !recalculation.IsFinished;
    }

    /// <summary>The tracks as the last portion left them, unless somebody has written since.</summary>
    /// <param name="version">Of the database, as this connection sees it.</param>
    private KeptTracks Tracks(OpenedBook book, long version)
    {
        if (_kept is { } kept && kept.Version == version && ReferenceEquals(kept.Book, book)) return kept.Tracks;
        var tracks = new KeptTracks(db, book.Progress);
        _kept = (version, book, tracks);
        return tracks;
    }

    private void PassOver(int id, Exception failure)
    {
        db.ChangeTracker.Clear();
        var recalculation = db.Recalculations.Known(r => r.Id == id);
        var first = new WaitingOrders(db, id, clock.Today).Next(1)[0];
        db.RecalculationOrders.Remove(first);
        recalculation.Done++;
        recalculation.Faults += $"Order {db.Orders.Where(o => o.Id == first.OrderId).Select(o => o.OrderId).Single()}: {WhyNot.WorkedOut(failure)}\n";
        db.SaveChanges();
    }

    /// <summary>Finds the orders once, some thousand in one transaction; what comes later is worked out by today's rules anyway. Stopped on the way, it begins again.</summary>
    private void List(int id, CancellationToken cancellation)
    {
        var recalculation = db.Recalculations.Known(r => r.Id == id);
        if (recalculation.IsListed) return;
        foreach (var touched in recalculation.Touched)
        {
            foreach (var some in AskedAgain.Of(id, db.TouchedBy(touched)).Chunk(ListedAtOnce))
            {
                if (cancellation.IsCancellationRequested) return;
                using var transaction = db.Database.BeginTransaction();
                AskedAgain.List(db, some);
                transaction.Commit();
            }
        }
        recalculation.Total = db.RecalculationOrders.LongCount(o => o.RecalculationId == id);
        recalculation.IsListed = true;
        db.SaveChanges();
    }
}
