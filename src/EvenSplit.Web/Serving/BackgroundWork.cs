using EvenSplit.Books;
using EvenSplit.Books.Checking;
using EvenSplit.Books.Importing;
using EvenSplit.Books.PayRuns;
using EvenSplit.Books.Terms;

namespace EvenSplit.Web.Serving;

/// <summary>
/// Reads queued files, works orders out again after a change, hands payment files over and reads the answers, rehearses drafts, and checks the book at
/// night: one thing at a time, woken by what is written. What a stop interrupted is found waiting at the next start.
/// </summary>
internal sealed class BackgroundWork(IServiceScopeFactory scopes, BookCache cache, BookPlace place, WorkSignal signal, ILogger<BackgroundWork> log) : BackgroundService
{
    /// <summary>How long it rests at most; what no signal tells of is found then: an hour that is over, the night, what another process wrote.</summary>
    private static readonly TimeSpan LongestRest = TimeSpan.FromSeconds(5);

    /// <summary>By the machine's clock: when hardly anybody works.</summary>
    private static readonly TimeSpan Night = TimeSpan.FromHours(3);

    private (long, DateOnly, long)? _targetsLookedAt;

    private DateTimeOffset _testsLookedAt;

    private DateTimeOffset? _lastCheck;

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        await Task.Yield();
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

    /// <returns>Whether there was anything to do, so that there may be more.</returns>
    private bool WorkOnce(CancellationToken stopping)
    {
        using var scope = scopes.CreateScope();
        T Get<T>() where T : notnull => scope.ServiceProvider.GetRequiredService<T>();
        if (Get<ImportFiles>().NextWaiting() is { } import)
        {
            Get<ReadImport>().Run(import, null, stopping);
            SendWaitingRefunds();
            return true;
        }
        var now = TimeProvider.System.GetUtcNow();
        if (_testsLookedAt + TimeSpan.FromMinutes(1) < now)
        {
            _testsLookedAt = now;
            Get<TestOrders>().Remove(now);
        }
        Get<IssueRun>().Deliver();
        Get<PaymentResults>().Fetch();
        if (Get<TakeEvents>() is { AnyWaiting: true } events)
        {
            events.RunAll(stopping);
            SendWaitingRefunds();
            return true;
        }
        if (Get<RecalculateOrders>() is var recalculate && recalculate.Next() is not null)
        {
            recalculate.RunAll(stopping);
            return true;
        }
        if (Get<Rehearsals>() is var rehearsals && rehearsals.Next() is not null)
        {
            rehearsals.RunAll(stopping);
            return true;
        }
        // Targets are looked at when something was posted or the day has changed, and nothing else waits.
        var posted = Get<Targets>().LastChange();
        if (posted != _targetsLookedAt)
        {
            Get<Targets>().Notice();
            _targetsLookedAt = posted;
            return true;
        }
        return Check(Get<BookCheck>(), now);
    }

    /// <summary>Once a night, and whenever somebody asks.</summary>
    private bool Check(BookCheck check, DateTimeOffset now)
    {
        _lastCheck ??= check.Latest()?.At ?? now;
        var local = TimeZoneInfo.ConvertTime(now, TimeZoneInfo.Local);
        var night = new DateTimeOffset(local.Date + Night, local.Offset);
        if (_lastCheck < night && now >= night) check.Ask("the night");
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
