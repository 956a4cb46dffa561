namespace EvenSplit.Core;

/// <summary>
/// Running figures and the highest they have reached, per window, after some event on a date (contract, section 4). A window that has
/// ended counts for nothing; a new one starts from 0.
/// </summary>
public readonly record struct ProgressState(
    DateOnly On, WindowState Lifetime, WindowState Month, WindowState Quarter, WindowState Year)
{
    /// <summary>The highest figures reached in the window that <paramref name="date"/> falls in.</summary>
    public ProgressFigures Highest(ProgressWindow window, DateOnly date) => SameWindow(window, date) ? Of(window).Highest : default;

    /// <summary>The state after one more event; <paramref name="change"/> is the event's own figures.</summary>
    /// <param name="on">The event's date in the book's zone, not before this state's.</param>
    public ProgressState After(DateOnly on, ProgressFigures change) => After(on, ProgressSpan.Of(change));

    /// <summary>The state after all the events of a span.</summary>
    /// <param name="on">A date of the span's month, not before this state's.</param>
    public ProgressState After(DateOnly on, in ProgressSpan span) => new(
        on,
        Begun(ProgressWindow.Lifetime, on).After(span), Begun(ProgressWindow.Month, on).After(span),
        Begun(ProgressWindow.Quarter, on).After(span), Begun(ProgressWindow.Year, on).After(span));

    /// <summary>A window as an event on a date finds it.</summary>
    internal WindowState Begun(ProgressWindow window, DateOnly on) => SameWindow(window, on) ? Of(window) : default;

    private WindowState Of(ProgressWindow window) => window switch
    {
        ProgressWindow.Month => Month,
        ProgressWindow.Quarter => Quarter,
        ProgressWindow.Year => Year,
        _ => Lifetime,
    };

    private bool SameWindow(ProgressWindow window, DateOnly date) => date == On || window switch
    {
        ProgressWindow.Month => date.Year == On.Year && date.Month == On.Month,
        ProgressWindow.Quarter => date.Year == On.Year && (date.Month - 1) / 3 == (On.Month - 1) / 3,
        ProgressWindow.Year => date.Year == On.Year,
        _ => true,
    };
}

/// <summary>One window's running figures, and the highest they have reached, never below 0.</summary>
public readonly record struct WindowState(ProgressFigures Running, ProgressFigures Highest)
{
    internal WindowState After(in ProgressSpan span) => new(Running.And(span.Sum), Highest.OrHigher(Running.And(span.Highest)));
}
