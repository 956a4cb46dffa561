using EvenSplit.Books;
using EvenSplit.Books.Backups;
using EvenSplit.Books.Checking;
using EvenSplit.Books.Importing;
using EvenSplit.Books.Journal;
using EvenSplit.Books.Keeping;
using EvenSplit.Books.PayRuns;
using EvenSplit.Books.Reconcile;
using EvenSplit.Books.Terms;

namespace EvenSplit.Web.Serving;

/// <summary>
/// Reads queued files, works orders out again after a change, hands payment files over and reads the answers, rehearses drafts, and checks the book at
/// night: one thing at a time, woken by what is written. What a stop interrupted is found waiting at the next start.
/// </summary>
internal sealed class BackgroundWork(IServiceScopeFactory scopes, BookCache cache, BookPlace place, WorkSignal signal, WorkFaults faults, Nights nights, FirstAnswer firstAnswer, ILogger<BackgroundWork> log) : BackgroundService
{
    /// <summary>How long it rests at most; what no signal tells of is found then: an hour that is over, the night, what another process wrote.</summary>
    private static readonly TimeSpan LongestRest = TimeSpan.FromSeconds(5);

    private (long, DateOnly, long)? _targetsLookedAt;

    private ((long, DateOnly, long)? Seen, DateTimeOffset At) _ranked;

    private DateTimeOffset _testsLookedAt;

    private DateTimeOffset? _lastCheck;

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        await firstAnswer.WaitAsync(stoppingToken);
        using var answers = new AnswersWatched(place, signal);
        while (!stoppingToken.IsCancellationRequested)
        {
            try
            {
                if (cache.Find() is null || !WorkOnce(stoppingToken)) await signal.WaitAsync(LongestRest, stoppingToken);
            }
            catch (OperationCanceledException) when (stoppingToken.IsCancellationRequested)
            {
                return;
            }
            catch (Exception failure)
            {
                // Whatever it was must not end the work of everything that comes after it.
                log.LogError(failure, "Background work failed");
                await Task.Delay(LongestRest, stoppingToken);
            }
        }
    }

    /// <summary>Each in its turn, the first that has something to do ends the round; one that fails is told of and keeps no other from its work.</summary>
    /// <returns>Whether there was anything to do, so that there may be more.</returns>
    private bool WorkOnce(CancellationToken stopping) =>
        Try<ImportFiles>("reading the files that were brought in", (files, services) => Import(files, services, stopping))
        || Try<TestOrders>("removing test orders", (tests, _) => RemoveTests(tests))
        || Try<IssueRun>("handing payment files over", (issue, _) => Afterwards(() => issue.Deliver()))
        || Try<PaymentResults>("fetching what banks and wallets answered", (results, _) => Afterwards(() => results.Fetch()))
        || Try<FetchOutside>("fetching what processors and partners report", (outside, _) => outside.Fetch())
        || Try<TakeEvents>("taking the events of shops", (events, services) => Take(events, services, stopping))
        || Try<RecalculateOrders>("working orders out again", (recalculate, _) => Work(recalculate.Next() is not null, () => recalculate.RunAll(stopping)))
        || Try<Rehearsals>("rehearsing drafts", (rehearsals, _) => Work(rehearsals.Next() is not null, () => rehearsals.RunAll(stopping)))
        || Try<Targets>("looking at targets", (targets, _) => LookAt(targets))
        || Try<Leaderboards>("working leaderboards out", (boards, services) => Rank(boards, services.GetRequiredService<Targets>(), services.GetRequiredService<BookClock>()))
        || Try<RowSeals>("sealing what was posted", (seals, _) => seals.SealNext())
        || Try<BackupSchedule>("backing the book up", (schedule, services) => nights.BackUp(schedule, services.GetRequiredService<BookBackup>(), TimeProvider.System.GetUtcNow()))
        || Try<FindMatches>("holding what others say against the book", (matches, _) => Work(matches.IsWaiting, () => matches.RunAll(stopping)))
        || Try<Retention>("thinning out clicks and events", (retention, _) => nights.Thin(retention, TimeProvider.System.GetUtcNow(), stopping))
        || Try<BookCheck>("checking the book", (check, _) => Check(check, TimeProvider.System.GetUtcNow()));

    private bool Try<T>(string work, Func<T, IServiceProvider, bool> once) where T : notnull
    {
        try
        {
            using var scope = scopes.CreateScope();
            var worked = once(scope.ServiceProvider.GetRequiredService<T>(), scope.ServiceProvider);
            faults.Worked(work);
            return worked;
        }
        catch (Exception failure) when (failure is not OperationCanceledException)
        {
            if (faults.Failed(work, failure.Message, TimeProvider.System.GetUtcNow())) log.LogError(failure, "Failed: {Work}", work);
            return false;
        }
    }

    private static bool Work(bool isAny, Action work)
    {
        if (isAny) work();
        return isAny;
    }

    /// <summary>Does what is quickly done, and goes on to what comes after it.</summary>
    private static bool Afterwards(Action work)
    {
        work();
        return false;
    }

    private bool Import(ImportFiles files, IServiceProvider services, CancellationToken stopping)
    {
        if (files.NextWaiting() is not { } import) return false;
        services.GetRequiredService<ReadImport>().Run(import, null, stopping);
        SendWaitingRefunds();
        return true;
    }

    private bool RemoveTests(TestOrders tests)
    {
        var now = TimeProvider.System.GetUtcNow();
        if (_testsLookedAt + TimeSpan.FromMinutes(1) >= now) return false;
        _testsLookedAt = now;
        tests.Remove(now);
        return false;
    }

    private bool Rank(Leaderboards boards, Targets targets, BookClock clock)
    {
        var (now, change) = (clock.GetUtcNow(), targets.LastChange());
        if (_ranked.Seen != change) _ranked = (change, now);
        return boards.WorkOutNext(now, _ranked.At);
    }

    private bool Take(TakeEvents events, IServiceProvider services, CancellationToken stopping)
    {
        if (!events.AnyWaiting) return false;
        events.RunAll(stopping);
        SendWaitingRefunds();
        return true;
    }

    /// <summary>When something was posted or the day has changed, and nothing else waits.</summary>
    private bool LookAt(Targets targets)
    {
        var posted = targets.LastChange();
        if (posted == _targetsLookedAt) return false;
        targets.Notice();
        _targetsLookedAt = posted;
        return true;
    }

    /// <summary>Once a night, and whenever somebody asks.</summary>
    private bool Check(BookCheck check, DateTimeOffset now)
    {
        _lastCheck ??= check.Latest()?.At ?? now;
        if (_lastCheck < Nights.LastBefore(now)) check.Ask("the night");
        if (!check.RunAsked()) return false;
        _lastCheck = now;
        return true;
    }

    /// <summary>In a scope of its own: what was read before is of no use to it.</summary>
    private void SendWaitingRefunds()
    {
        using var scope = scopes.CreateScope();
        scope.ServiceProvider.GetRequiredService<QuarantineDesk>().SendRefundsWhoseOrderCame();
    }
}
