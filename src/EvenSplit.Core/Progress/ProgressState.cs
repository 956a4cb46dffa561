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
    public ProgressState After(DateOnly on, ProgressFigures change)
    {
        var before = this;
        return new ProgressState(
            on, Next(ProgressWindow.Lifetime), Next(ProgressWindow.Month), Next(ProgressWindow.Quarter), Next(ProgressWindow.Year));

        WindowState Next(ProgressWindow window) => (before.SameWindow(window, on) ? before.Of(window) : default).After(change);
    }

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
    internal WindowState After(ProgressFigures change)
    {
        var running = new ProgressFigures(Running.Sales + change.Sales, Running.Orders + change.Orders, Running.Earned + change.Earned);
        return new WindowState(running, new ProgressFigures(
            Math.Max(Highest.Sales, running.Sales), Math.Max(Highest.Orders, running.Orders), Math.Max(Highest.Earned, running.Earned)));
    }
}
