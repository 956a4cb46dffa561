namespace EvenSplit.Core.Tests;

/// <summary>Events of a month told in one go come to what they come to one after another, in every window (contract, section 4).</summary>
public sealed class ProgressSpanTests
{
    public static TheoryData<int> Seeds => new(Enumerable.Range(1, 40));

    [Theory, MemberData(nameof(Seeds))]
    public void Days_of_events_come_to_what_their_events_do(int seed)
    {
        var random = new Random(seed);
        var (one, told) = (default(ProgressState), default(ProgressState));
        for (var on = new DateOnly(2025, 11, 20); on < new DateOnly(2026, 4, 10); on = on.AddDays(1 + random.Next(9)))
        {
            var span = default(ProgressSpan);
            for (var events = random.Next(6); events > 0; events--)
            {
                var figures = new ProgressFigures(random.Next(-900, 1000), random.Next(-1, 2), random.Next(-90, 100));
                one = one.After(on, figures);
                span = span.Then(ProgressSpan.Of(figures));
            }
            if (span != default) told = told.After(on, span);
            foreach (var window in Enum.GetValues<ProgressWindow>()) Assert.Equal(one.Highest(window, on), told.Highest(window, on));
        }
    }

    [Fact]
    public void What_only_goes_down_leaves_the_highest_where_it_was()
    {
        var reached = default(ProgressState).After(new DateOnly(2026, 3, 1), new ProgressFigures(500, 2, 50));
        var after = reached.After(new DateOnly(2026, 3, 2), ProgressSpan.Of(new ProgressFigures(-200, -1, -20)));
        Assert.Equal((new ProgressFigures(300, 1, 30), new ProgressFigures(500, 2, 50)), (after.Month.Running, after.Month.Highest));
        Assert.Equal(default, ProgressSpan.Of(new ProgressFigures(-1, -1, -1)).Highest);
    }
}
