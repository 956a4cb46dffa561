using EvenSplit.Books;
using EvenSplit.Books.Importing;
using EvenSplit.Books.PayRuns;
using EvenSplit.Books.Terms;

namespace EvenSplit.Web.Serving;

/// <summary>Reads queued files, works orders out again after a change, hands payment files over and reads the answers, and rehearses drafts, one thing at a time. What a stop interrupted is found waiting at the next start.</summary>
internal sealed class BackgroundWork(IServiceScopeFactory scopes, BookCache cache, ILogger<BackgroundWork> log) : BackgroundService
{
    private (long, DateOnly, long)? _targetsLookedAt;

    private DateTimeOffset _testsLookedAt;

    private static readonly TimeSpan Idle = TimeSpan.FromMilliseconds(250);

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        await Task.Yield();
        while (!stoppingToken.IsCancellationRequested)
        {
            try
            {
                if (cache.Find() is null || !WorkOnce(stoppingToken)) await Task.Delay(Idle, stoppingToken);
            }
            catch (OperationCanceledException) when (stoppingToken.IsCancellationRequested)
            {
                return;
            }
            catch (Exception failure)
            {
                // Whatever it was must not end the work of everything that comes after it.
                log.LogError(failure, "Background work failed");
                await Task.Delay(TimeSpan.FromSeconds(5), stoppingToken);
            }
        }
    }

    private bool WorkOnce(CancellationToken stopping)
    {
        using var scope = scopes.CreateScope();
        if (scope.ServiceProvider.GetRequiredService<ImportFiles>().NextWaiting() is { } import)
        {
            scope.ServiceProvider.GetRequiredService<ReadImport>().Run(import, null, stopping);
            SendWaitingRefunds();
            return true;
        }
        if (_testsLookedAt + TimeSpan.FromMinutes(1) < TimeProvider.System.GetUtcNow())
        {
            _testsLookedAt = TimeProvider.System.GetUtcNow();
            scope.ServiceProvider.GetRequiredService<TestOrders>().Remove(_testsLookedAt);
        }
        scope.ServiceProvider.GetRequiredService<IssueRun>().Deliver();
        scope.ServiceProvider.GetRequiredService<PaymentResults>().Fetch();
        var events = scope.ServiceProvider.GetRequiredService<TakeEvents>();
        if (events.AnyWaiting)
        {
            events.RunAll(stopping);
            SendWaitingRefunds();
            return true;
        }
        var recalculate = scope.ServiceProvider.GetRequiredService<RecalculateOrders>();
        if (recalculate.Next() is not null)
        {
            recalculate.RunAll(stopping);
            return true;
        }
        var rehearsals = scope.ServiceProvider.GetRequiredService<Rehearsals>();
        if (rehearsals.Next() is not null)
        {
            rehearsals.RunAll(stopping);
            return true;
        }
        // Targets are looked at when something was posted or the day has changed, and nothing else waits.
        var posted = scope.ServiceProvider.GetRequiredService<Targets>().LastChange();
        if (posted == _targetsLookedAt) return false;
        scope.ServiceProvider.GetRequiredService<Targets>().Notice();
        _targetsLookedAt = posted;
        return true;
    }

    /// <summary>In a scope of its own: what was read before is of no use to it.</summary>
    private void SendWaitingRefunds()
    {
        using var scope = scopes.CreateScope();
        scope.ServiceProvider.GetRequiredService<QuarantineDesk>().SendRefundsWhoseOrderCame();
    }
}
