using System.Diagnostics;

namespace EvenSplit.StandIns;

/// <summary>Ends the stand-ins when the process they were started beside has ended, however that came about.</summary>
internal sealed class EndsWithParent(int parent, IHostApplicationLifetime lifetime) : BackgroundService
{
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        try
        {
            using var process = Process.GetProcessById(parent);
            await process.WaitForExitAsync(stoppingToken);
        }
        catch (ArgumentException)
        {
            // It has ended already.
        }
        lifetime.StopApplication();
    }
}
