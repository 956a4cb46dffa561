namespace EvenSplit.Core;

/// <summary>
/// Follows every track that is asked for, event by event. Events must come in the order of their instants, a payment before a refund
/// at the same instant, then ids.
/// </summary>
internal sealed class ProgressBook(Rulebook rules) : IProgressBefore
{
    private readonly ProgressTracks _tracks = new(rules);
    private readonly Dictionary<(TrackKey Track, Currency Currency), ProgressState> _states = [];
    private DateOnly _today;

    /// <summary>Sets the date of the event that comes next.</summary>
    public void MoveTo(DateOnly date) => _today = date;

    public ProgressFigures Of(PayeeId payee, Agreement agreement, ProgressWindow window) =>
        _states.TryGetValue((TrackKey.Of(payee, agreement), agreement.Currency), out var state) ? state.Highest(window, _today) : default;

    /// <summary>Counts a payment after its shares are worked out.</summary>
    public void CountSale(OrderLedger ledger) => Count(_tracks.OfSale(ledger));

    public void CountRefund(OrderLedger ledger, RefundTaken taken) => Count(_tracks.OfRefund(ledger, taken));

    private void Count(IReadOnlyList<ProgressChange> changes)
    {
        foreach (var change in changes)
        {
            var track = (change.Track, change.Currency);
            _states[track] = _states.GetValueOrDefault(track).After(_today, change.Figures);
        }
    }
}
