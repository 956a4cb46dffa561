using System.Runtime.InteropServices;

namespace EvenSplit.Core;

/// <summary>
/// Follows every track that is asked for, event by event. Events must come in the order of their instants, a payment before a refund
/// at the same instant, then ids.
/// </summary>
internal sealed class ProgressBook(Rulebook rules) : IProgressBefore
{
    private readonly ProgressTracks _tracks = new(rules);
    private readonly Dictionary<(TrackKey Track, Currency Currency), ProgressState> _states = [];
    private readonly List<ProgressChange> _changes = [];
    private DateOnly _today;

    /// <summary>Sets the date of the event that comes next.</summary>
    public void MoveTo(DateOnly date) => _today = date;

    public ProgressFigures Of(PayeeId payee, Agreement agreement, ProgressWindow window, DateOnly paidOn) =>
        _states.GetValueOrDefault((TrackKey.Of(payee, agreement), agreement.Currency)).Highest(window, paidOn);

    /// <summary>Counts a payment after its shares are worked out.</summary>
    public void CountSale(OrderLedger ledger)
    {
        _tracks.OfSale(ledger, _changes);
        Count();
    }

    public void CountRefund(OrderLedger ledger, RefundTaken taken)
    {
        _tracks.OfRefund(ledger, taken, _changes);
        Count();
    }

    private void Count()
    {
        foreach (var change in _changes)
        {
            ref var state = ref CollectionsMarshal.GetValueRefOrAddDefault(_states, (change.Track, change.Currency), out _);
            state = state.After(_today, change.Figures);
        }
        _changes.Clear();
    }
}
