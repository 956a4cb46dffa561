using System.Diagnostics;

namespace EvenSplit.Web.Tests;

/// <summary>Waits for what the application does by the side: longer than a busy machine ever needs, so that only what never comes fails.</summary>
internal static class Eventually
{
    private static readonly TimeSpan Longest = TimeSpan.FromMinutes(3);

    /// <param name="what">What has not come, for the failure.</param>
    public static async Task IsAsync(Func<Task<bool>> isSo, string what)
    {
        var since = Stopwatch.GetTimestamp();
        while (!await isSo())
        {
            Assert.True(Stopwatch.GetElapsedTime(since) < Longest, what);
            await Task.Delay(50);
        }
    }

    public static void Is(Func<bool> isSo, string what) => IsAsync(() => Task.FromResult(isSo()), what).GetAwaiter().GetResult();
}
