namespace EvenSplit.Core;

/// <summary>One payee's running figures and their highest values, per window, in one asking currency.</summary>
internal sealed class ProgressTrack(Currency currency)
{
    private static readonly ProgressWindow[] Windows = Enum.GetValues<ProgressWindow>();

    private readonly (DateOnly Start, ProgressFigures Running, ProgressFigures Highest)[] _byWindow =
        new (DateOnly, ProgressFigures, ProgressFigures)[Windows.Length];

    public Currency Currency { get; } = currency;

    public ProgressFigures Highest(ProgressWindow window, DateOnly on) =>
        _byWindow[(int)window] is var figures && figures.Start == StartOf(window, on) ? figures.Highest : default;

    /// <summary>Counts one event; <paramref name="change"/> is the event's own figures.</summary>
    public void Count(DateOnly on, ProgressFigures change)
    {
        foreach (var window in Windows)
        {
            ref var figures = ref _byWindow[(int)window];
            var start = StartOf(window, on);
            if (figures.Start != start) figures = (start, default, default);
            figures.Running = new ProgressFigures(
                figures.Running.Sales + change.Sales, figures.Running.Orders + change.Orders, figures.Running.Earned + change.Earned);
            figures.Highest = new ProgressFigures(
                Math.Max(figures.Highest.Sales, figures.Running.Sales),
                Math.Max(figures.Highest.Orders, figures.Running.Orders),
                Math.Max(figures.Highest.Earned, figures.Running.Earned));
        }
    }

    private static DateOnly StartOf(ProgressWindow window, DateOnly date) => window switch
    {
        ProgressWindow.Month => new DateOnly(date.Year, date.Month, 1),
        ProgressWindow.Quarter => new DateOnly(date.Year, (date.Month - 1) / 3 * 3 + 1, 1),
        ProgressWindow.Year => new DateOnly(date.Year, 1, 1),
        _ => DateOnly.MinValue,
    };
}
