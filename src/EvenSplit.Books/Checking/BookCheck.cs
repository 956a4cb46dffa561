using System.Diagnostics;
using EvenSplit.Books.Model;
using EvenSplit.Books.Scenarios;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Checking;

/// <summary>
/// Works the whole book out anew and compares: entries, figures of orders, progress, exceptions, every kept sum, runs against what they took. It reads one
/// state of the book and writes nothing; others write meanwhile.
/// </summary>
public sealed class BookCheck(BookDbContext db, BookCache cache, BookFacts facts) : IUseCase
{
    public CheckResult Run()
    {
        var watch = Stopwatch.StartNew();
        db.Database.OpenConnection();
        try
        {
            // Begun without the intention to write: a writer is not kept waiting, and what it writes is not seen.
            using var reading = ((SqliteConnection)db.Database.GetDbConnection()).BeginTransaction(deferred: true);
            db.Database.UseTransaction(reading);
            var lines = DatabaseChecks.Of(db).ToList();
            var waiting = Waiting();
            var book = cache.Find(db);
            if (book is not null) lines.AddRange(Lines(book, waiting));
            return new CheckResult(lines, watch.Elapsed, waiting);
        }
        finally
        {
            db.Database.UseTransaction(null);
            db.Database.CloseConnection();
        }
    }

    /// <summary>Asks for a check, which is made as soon as nothing else is to do; one that waits already is enough.</summary>
    /// <param name="why">What makes it run.</param>
    public void Ask(string why)
    {
        if (db.BookChecks.Any(c => !c.IsDone)) return;
        db.BookChecks.Add(new BookCheckRecord { At = TimeProvider.System.GetUtcNow(), Why = why });
        db.SaveChanges();
    }

    /// <summary>Makes the check that was asked for, and keeps what it finds for the desk and its page.</summary>
    /// <returns>False where none was asked for.</returns>
    public bool RunAsked()
    {
        if (!db.BookChecks.Any(c => !c.IsDone)) return false;
        var result = Run();
        db.ChangeTracker.Clear();
        var record = db.BookChecks.First(c => !c.IsDone);
        (record.IsDone, record.At, record.Milliseconds) = (true, TimeProvider.System.GetUtcNow(), (long)result.Took.TotalMilliseconds);
        (record.Differences, record.Waiting) = (result.Differences, result.Waiting);
        record.Lines = [.. result.Lines.Select((l, i) => new CheckLineRecord
        {
            Position = i,
            Name = l.Name,
            Kept = l.Kept,
            WorkedOut = l.WorkedOut,
            DifferencesFound = l.Differences,
            Differences = [.. l.Shown.Select(d => new CheckDifferenceRecord { Subject = d.Subject, Key = d.Key, What = d.What, Kept = d.Kept, WorkedOut = d.WorkedOut })],
        })];
        db.SaveChanges();
        return true;
    }

    /// <summary>The last one that was made, with its lines and differences.</summary>
    public BookCheckRecord? Last() => db.BookChecks.AsNoTracking().Where(c => c.IsDone).Include(c => c.Lines.OrderBy(l => l.Position)).ThenInclude(l => l.Differences.OrderBy(d => d.Id)).AsSplitQuery()
        .OrderByDescending(c => c.Id).FirstOrDefault();

    /// <summary>The last one without what it found: for the desk.</summary>
    public BookCheckRecord? Latest() => db.BookChecks.AsNoTracking().Where(c => c.IsDone).OrderByDescending(c => c.Id).FirstOrDefault();

    /// <summary>Whether one is asked for and not made yet.</summary>
    public bool IsAsked => db.BookChecks.Any(c => !c.IsDone);

    private List<CheckLine> Lines(OpenedBook book, long? waiting)
    {
        var kept = new KeptChecks(db);
        var runs = new RunChecks(db, book);
        List<CheckLine> lines = [kept.Months(), .. kept.Entries(), runs.Runs(), runs.Files()];
        if (waiting is not null) return lines;
        var anew = BookAnew.WorkOut(db, book, facts.Read());
        var sales = new SalesChecks(db, anew);
        return [sales.Orders(), .. sales.Entries(), sales.Exceptions(), sales.OpenExceptions(), sales.CountedSales(), kept.Progress(anew), .. lines];
    }

    /// <summary>How many orders a change of the rules has still to reach; null where none.</summary>
    private long? Waiting()
    {
        var open = db.Recalculations.AsNoTracking().Where(r => !r.IsFinished).ToArray();
        if (open.Length == 0) return null;
        return open.Where(r => !r.IsListed).Sum(r => r.Touched.Sum(t => (long)db.TouchedBy(t).Count())) + db.RecalculationOrders.LongCount();
    }
}
