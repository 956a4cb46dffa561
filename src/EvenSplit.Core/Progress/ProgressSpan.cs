namespace EvenSplit.Core;

/// <summary>
/// What events that follow each other within one month add together. No window begins or ends within a month, so that the sum, and the highest it
/// stood at on the way (never below 0), stand for the events in every window (contract, section 4). The default is no event at all.
/// </summary>
public readonly record struct ProgressSpan(ProgressFigures Sum, ProgressFigures Highest)
{
    public static ProgressSpan Of(in ProgressFigures one) => new(one, default(ProgressFigures).OrHigher(one));

    /// <summary>Both, one after the other.</summary>
    public ProgressSpan Then(in ProgressSpan next) => new(Sum.And(next.Sum), Highest.OrHigher(Sum.And(next.Highest)));
}
