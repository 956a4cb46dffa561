namespace EvenSplit.Core;

/// <summary>A window of a target: its first day, and the last day of it to look at.</summary>
public readonly record struct TargetWindow(DateOnly Start, DateOnly Last);

/// <summary>In which windows a target can have been reached, in the book's zone.</summary>
public static class TargetWindows
{
    /// <summary>The window that today is in, and the one before it, as far as the target holds.</summary>
    /// <param name="from">The first day the target holds.</param>
    /// <param name="to">The first day it holds no more; null where it has no end.</param>
    public static IEnumerable<TargetWindow> ToLookAt(ProgressWindow window, DateOnly from, DateOnly? to, DateOnly today)
    {
        var end = to is { } ended && ended <= today ? ended.AddDays(-1) : today;
        if (end < from) yield break;
        var start = StartOf(window, from, end);
        yield return new TargetWindow(start, end);
        if (window == ProgressWindow.Lifetime) yield break;
        var before = start.AddDays(-1);
        if (before >= from) yield return new TargetWindow(StartOf(window, from, before), before);
    }

    private static DateOnly StartOf(ProgressWindow window, DateOnly from, DateOnly day) => window switch
    {
        ProgressWindow.Month => new DateOnly(day.Year, day.Month, 1),
        ProgressWindow.Quarter => new DateOnly(day.Year, (day.Month - 1) / 3 * 3 + 1, 1),
        ProgressWindow.Year => new DateOnly(day.Year, 1, 1),
        _ => from,
    };
}
