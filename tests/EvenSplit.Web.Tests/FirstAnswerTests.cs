using EvenSplit.Web.Serving;

namespace EvenSplit.Web.Tests;

/// <summary>Background work begins after the first answer; without a visitor, or when the application stops, it waits no longer either.</summary>
public sealed class FirstAnswerTests
{
    [Fact]
    public async Task Background_work_waits_for_the_first_answer()
    {
        var first = new FirstAnswer();
        var waiting = first.WaitAsync(TestContext.Current.CancellationToken);
        Assert.False(waiting.IsCompleted);
        first.IsGiven();
        await waiting;
        // Whoever asks later does not wait.
        Assert.True(first.WaitAsync(TestContext.Current.CancellationToken).IsCompleted);
    }

    [Fact]
    public async Task Without_visitors_it_begins_by_itself() => await new FirstAnswer().WaitAsync(TestContext.Current.CancellationToken);

    [Fact]
    public async Task A_stop_waits_for_nobody()
    {
        using var stopping = new CancellationTokenSource();
        var waiting = new FirstAnswer().WaitAsync(stopping.Token);
        await stopping.CancelAsync();
        await waiting;
        Assert.True(waiting.IsCompletedSuccessfully);
    }
}
