namespace EvenSplit.Core;

/// <summary>How old something owed is: up to 30, 60 and 90 days, and older.</summary>
public static class Ageing
{
    /// <summary>The days that bound the ages.</summary>
    public static IReadOnlyList<int> Bounds { get; } = [30, 60, 90];

    /// <summary>Which age it has: 0 up to the first bound, as many as there are bounds beyond the last.</summary>
    /// <param name="since">The day since when it is owed, in the book's zone; one to come counts as today.</param>
    public static int Of(DateOnly since, DateOnly today)
    {
        var days = today.DayNumber - since.DayNumber;
        return Bounds.TakeWhile(b => days > b).Count();
    }

    /// <summary>The first day since when something has an age that is bounded.</summary>
    public static DateOnly FirstDay(int age, DateOnly today) => today.AddDays(-Bounds[age]);
}
