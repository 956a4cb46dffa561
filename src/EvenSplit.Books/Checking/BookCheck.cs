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

    /// <summary>Checks, and keeps what was found for the desk and its page.</summary>
    /// <param name="why">What made it run.</param>
    public CheckResult RunAndKeep(string why)
    {
        var result = Run();
        db.ChangeTracker.Clear();
        db.BookChecks.Add(new BookCheckRecord
        {
            At = TimeProvider.System.GetUtcNow(),
            Why = why,
            Milliseconds = (long)result.Took.TotalMilliseconds,
            Differences = result.Differences,
            Lines = [.. result.Lines.Select((l, i) => new CheckLineRecord
            {
                Position = i,
                Name = l.Name,
                Kept = l.Kept,
                WorkedOut = l.WorkedOut,
                DifferencesFound = l.Differences,
                Differences = [.. l.Shown.Select(d => new CheckDifferenceRecord { Subject = d.Subject, Key = d.Key, What = d.What, Kept = d.Kept, WorkedOut = d.WorkedOut })],
            })],
        });
        db.SaveChanges();
        return result;
    }

    /// <summary>The last one that was kept, with its lines and differences.</summary>
    public BookCheckRecord? Last() => db.BookChecks.AsNoTracking().Include(c => c.Lines.OrderBy(l => l.Position)).ThenInclude(l => l.Differences.OrderBy(d => d.Id)).AsSplitQuery().OrderByDescending(c => c.Id).FirstOrDefault();

    /// <summary>When the last one ran and how many differences it found.</summary>
    public (DateTimeOffset At, long Differences)? Latest() =>
        db.BookChecks.AsNoTracking().OrderByDescending(c => c.Id).Select(c => new { c.At, c.Differences }).FirstOrDefault() is { } last ? (last.At, last.Differences) : null;

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
