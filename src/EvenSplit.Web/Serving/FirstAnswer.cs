namespace EvenSplit.Web.Serving;

/// <summary>
/// Lets background work wait until the first visitor is answered: at a start both are compiled, and whoever waits for a page is to have the processors. Without
/// visitors it begins soon.
/// </summary>
internal sealed class FirstAnswer
{
    private static readonly TimeSpan Longest = TimeSpan.FromSeconds(2);

    private readonly TaskCompletionSource _given = new(TaskCreationOptions.RunContinuationsAsynchronously);

    public void IsGiven() => _given.TrySetResult();

    public Task WaitAsync(CancellationToken cancellation) => Task.WhenAny(_given.Task, Task.Delay(Longest, cancellation));
}
