using System.Diagnostics;
using EvenSplit.Books.Model;
using EvenSplit.Books.Reconcile;
using EvenSplit.Books.Scenarios;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Checking;

/// <summary>
/// Works the whole book out anew and compares: entries, figures of orders, progress, exceptions, every kept sum, runs against what they took. It reads one
/// state of the book and writes nothing; others write meanwhile.
/// </summary>
public sealed class BookCheck(BookDbContext db, BookCache cache, BookFacts facts, FilesAsTheyCame files, FindMatches matches, BookClock clock) : IUseCase
{
    private const int ProcessorPortion = 4_000;

    public CheckResult Run()
    {
        var watch = Stopwatch.StartNew();
        using var reading = db.BeginReading();
        var lines = new List<CheckLine>();
        var waiting = Waiting();
        Made(lines, "Database", () => DatabaseChecks.Of(db));
        Made(lines, "Rules", () =>
        {
            if (cache.Find(db) is { } book) Compare(lines, book, waiting);
            return [];
        });
        return new CheckResult(lines, watch.Elapsed, waiting);
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
        if (db.Audit.AsNoTracking().OrderByDescending(a => a.Id).FirstOrDefault() is { } last) (record.LastAudit, record.LastAuditHash) = (last.Id, last.Hash);
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

    private void Compare(List<CheckLine> lines, OpenedBook book, long? waiting)
    {
        var kept = new KeptChecks(db);
        var runs = new RunChecks(db, book);
        if (waiting is null)
        {
            Made(lines, "The book worked out anew", () =>
            {
                var anew = BookAnew.WorkOut(db, book, facts.Read());
                var sales = new SalesChecks(db, anew);
                Made(lines, "Figures of orders", () => [sales.Orders()]);
                Made(lines, "Entries", sales.Entries);
                Made(lines, "Exceptions", () => [sales.Exceptions(), sales.OpenExceptions()]);
                Made(lines, "Counted sales", () => [sales.CountedSales()]);
                Made(lines, "Progress of payees", () => [kept.Progress(anew)]);
                return [];
            });
        }
        Made(lines, "Sums of months", () => [kept.Months()]);
        Made(lines, "Sums of entries", kept.Entries);
        Made(lines, "Sums of processors", () => [kept.Processors()]);
        Made(lines, "Days of the journal", () => [kept.JournalDays()]);
        Matches(lines, "Matches of processors", Bench.Processors, () => Processors(book));
        Matches(lines, "Matches of the bank", Bench.Bank, () => new BankMatches(db, book, clock.Today).Compare());
        Matches(lines, "Matches of partners", Bench.Partners, () => new PartnerMatches(db, clock.Today).Compare());
        Made(lines, "Runs", () => [runs.Runs()]);
        Made(lines, "Payment files", () => [runs.Files()]);
        Made(lines, "Files of processors, banks and partners", () => new FileChecks(db, book, files).Of());
        Made(lines, "Closed months", () => [MonthHash.Check(db)]);
    }

    /// <summary>Found from nothing. While something of the bench waits for its matches there is nothing to compare.</summary>
    private void Matches(List<CheckLine> lines, string name, Bench bench, Func<(int Compared, IReadOnlyList<MatchDifference> Differences)> compare) => Made(lines, name, () =>
    {
        var comparison = new Comparison(name);
        if (matches.IsWaitingAt(bench)) return [comparison.Line("wait to be found", "not compared")];
        var (compared, differences) = compare();
        foreach (var difference in differences) comparison.Differ(CheckSubject.Nothing, "", difference.Of, difference.Kept, difference.Found);
        return [comparison.Line(MoneyWords.Count(compared, "match", "matches"), "found anew")];
    });

    /// <summary>Of every order that a processor takes or that its lines name, a few thousand at a time.</summary>
    private (int, IReadOnlyList<MatchDifference>) Processors(OpenedBook book)
    {
        var (processors, compared, differences) = (new ProcessorMatches(db, book, clock.Today), 0, new List<MatchDifference>());
        var ofOrders = db.Orders.Where(o => o.Processor != null).Select(o => o.OrderId);
        var ofLines = db.OutsideLines.Where(l => l.Bench == Bench.Processors && l.Order != null).Select(l => l.Order!);
        foreach (var names in ofOrders.Union(ofLines).ToArray().Chunk(ProcessorPortion))
        {
            var (some, wrong) = processors.Compare(names);
            compared += some;
            differences.AddRange(wrong);
        }
        return (compared, differences);
    }

    /// <summary>A book that is damaged may stop a comparison half way; that is found as much as a figure that differs.</summary>
    private static void Made(List<CheckLine> lines, string name, Func<IEnumerable<CheckLine>> make)
    {
        try
        {
            lines.AddRange(make());
        }
        catch (Exception damage) when (damage is not OutOfMemoryException)
        {
            var comparison = new Comparison(name);
            comparison.Differ(CheckSubject.Nothing, "", name, $"cannot be compared: {damage.Message}", "what can be read");
            lines.Add(comparison.Line("cannot be read to its end", "what can be read"));
        }
    }

    /// <summary>How many orders a change of the rules has still to reach; null where none.</summary>
    private long? Waiting()
    {
        var open = db.Recalculations.AsNoTracking().Where(r => !r.IsFinished).ToArray();
        if (open.Length == 0) return null;
        return open.Where(r => !r.IsListed).Sum(r => r.Touched.Sum(t => (long)db.TouchedBy(t).Count())) + db.RecalculationOrders.LongCount();
    }
}
