using System.Threading.Channels;
using EvenSplit.Books.Importing;

namespace EvenSplit.Web.Doors;

/// <summary>
/// Stores events as they arrive, many in one transaction, and lets each sender wait until theirs is on disk. That is what makes hundreds a second
/// possible beside everything else that writes.
/// </summary>
internal sealed class EventDoor(IServiceScopeFactory scopes, ILogger<EventDoor> log) : BackgroundService
{
    private const int MostAtOnce = 500;
    private const int MostWaiting = 5000;

    private readonly Channel<(ReceivedEvent Event, TaskCompletionSource Stored)> _arrived =
        Channel.CreateBounded<(ReceivedEvent, TaskCompletionSource)>(new BoundedChannelOptions(MostWaiting) { SingleReader = true });

    /// <summary>Ends when the event is on disk.</summary>
    public async Task StoreAsync(ReceivedEvent received, CancellationToken cancellation)
    {
        var stored = new TaskCompletionSource(TaskCreationOptions.RunContinuationsAsynchronously);
        await _arrived.Writer.WriteAsync((received, stored), cancellation);
        await stored.Task.WaitAsync(cancellation);
    }

    /// <returns>False at the end, which is no failure.</returns>
    private async Task<bool> ArrivedAsync(CancellationToken stoppingToken)
    {
        try
        {
            return await _arrived.Reader.WaitToReadAsync(stoppingToken);
        }
        catch (OperationCanceledException)
        {
            return false;
        }
    }

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        await Task.Yield();
        var batch = new List<(ReceivedEvent Event, TaskCompletionSource Stored)>();
        while (await ArrivedAsync(stoppingToken))
        {
            batch.Clear();
            while (batch.Count < MostAtOnce && _arrived.Reader.TryRead(out var next)) batch.Add(next);
            try
            {
                using var scope = scopes.CreateScope();
                scope.ServiceProvider.GetRequiredService<Inbox>().Store([.. batch.Select(b => b.Event)]);
                foreach (var (_, stored) in batch) stored.SetResult();
            }
            catch (Exception failure)
            {
                // The senders are told that it was not stored, and send again.
                log.LogError(failure, "{Count} events could not be stored", batch.Count);
                foreach (var (_, stored) in batch) stored.SetException(failure);
            }
        }
    }
}
