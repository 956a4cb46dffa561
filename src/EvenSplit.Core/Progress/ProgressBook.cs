using System.Runtime.InteropServices;

namespace EvenSplit.Core;

/// <summary>
/// Follows every track that is asked for, event by event. Events must come in the order of their instants, a payment before a refund
/// at the same instant, then ids. May be asked from several threads while nothing is counted.
/// </summary>
internal sealed class ProgressBook : IProgressBefore
{
    private readonly Dictionary<(TrackKey Track, Currency Currency), ProgressState> _states = [];

    public ProgressFigures Of(PayeeId payee, Agreement agreement, ProgressWindow window, DateOnly paidOn) =>
        _states.GetValueOrDefault((TrackKey.Of(payee, agreement), agreement.Currency)).Highest(window, paidOn);

    /// <summary>Counts what one event adds to the tracks.</summary>
    /// <param name="on">The event's date in the book's zone.</param>
    public void Count(DateOnly on, IReadOnlyList<ProgressChange> changes)
    {
        for (var i = 0; i < changes.Count; i++)
        {
            ref var state = ref CollectionsMarshal.GetValueRefOrAddDefault(_states, (changes[i].Track, changes[i].Currency), out _);
            state = state.After(on, changes[i].Figures);
        }
    }
}
