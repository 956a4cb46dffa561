namespace EvenSplit.Core;

/// <summary>
/// Follows the progress of every payee whose terms ask for it, event by event (contract, section 4). Events must come in the order
/// of their instants, a payment before a refund at the same instant, then ids.
/// </summary>
public sealed class ProgressBook : IProgressBefore
{
    private readonly Rulebook _rules;
    /// <summary>Tracks by payee and agreement; under referral one payee's agreements share their figures, so the agreement is null.</summary>
    private readonly Dictionary<(PayeeId Payee, AgreementId? Agreement), List<ProgressTrack>> _tracks = [];
    private DateOnly _today;

    public ProgressBook(Rulebook rules)
    {
        _rules = rules;
        foreach (var payee in rules.Payees)
        {
            foreach (var agreement in payee.Memberships.Select(m => rules.Agreement(m.Agreement)).Distinct())
            {
                var asks = agreement.AsksProgress || payee.PersonalTerms.Any(p => p.Agreement == agreement.Id && p.Term.AsksProgress);
                if (asks) AddTrack(payee.Id, agreement);
            }
        }
    }

    /// <summary>Sets the date of the paidAt of the order that will ask next.</summary>
    public void MoveTo(DateOnly date) => _today = date;

    public ProgressFigures Of(PayeeId payee, Agreement agreement, ProgressWindow window) =>
        _tracks[Key(payee, agreement)].First(t => t.Currency == agreement.Currency).Highest(window, _today);

    /// <summary>Counts a payment after its shares are worked out.</summary>
    public void CountSale(OrderLedger ledger)
    {
        if (_tracks.Count == 0) return;
        var goods = ledger.Figures.Lines.Select(l => l.GoodsNet).ToArray();
        Count(ledger, ledger.Order.PaidAt!.Value, goods, 1, ledger.SaleEntries);
    }

    /// <param name="wasEmptied">Whether this refund is the one that left nothing of the order.</param>
    public void CountRefund(OrderLedger ledger, Refund refund, IReadOnlyList<Entry> entries, IReadOnlyList<long> goodsTaken, bool wasEmptied)
    {
        if (_tracks.Count == 0) return;
        Count(ledger, ledger.TakesEffectAt(refund), goodsTaken.Select(g => -g).ToArray(), wasEmptied ? -1 : 0, entries);
    }

    private void Count(OrderLedger ledger, DateTimeOffset at, long[] goods, int orders, IReadOnlyList<Entry> entries)
    {
        var on = _rules.Policy.Time.DateOf(at);
        var paidOn = _rules.Policy.Time.DateOf(ledger.Order.PaidAt!.Value);
        var earners = entries.Select(e => Key(e.Payee, _rules.Agreement(e.Agreement))).ToHashSet();
        if (ledger.Attribution.Payee is { } attributed) earners.Add((attributed, null));
        foreach (var share in ledger.Shares) earners.Add(Key(share.Payee.Id, share.Agreement));
        foreach (var key in earners)
        {
            if (!_tracks.TryGetValue(key, out var tracks)) continue;
            var (sales, counts) = SalesFor(ledger, key, goods);
            var earned = entries
                .Where(e => Key(e.Payee, _rules.Agreement(e.Agreement)) == key)
                .GroupBy(e => e.Amount.Currency, (currency, posted) => new Money(posted.Sum(e => e.Amount.Minor), currency))
                .ToArray();
            foreach (var track in tracks)
            {
                track.Count(on, new ProgressFigures(
                    ConvertOrNothing(new Money(sales, ledger.Order.Currency), track, paidOn),
                    counts ? orders : 0,
                    earned.Sum(e => ConvertOrNothing(e, track, paidOn))));
            }
        }
    }

    private static (long Sales, bool Counts) SalesFor(OrderLedger ledger, (PayeeId Payee, AgreementId? Agreement) key, long[] goods)
    {
        if (key.Agreement is null) return ledger.Attribution.Payee == key.Payee ? (goods.Sum(), true) : (0, false);
        var share = ledger.Shares.FirstOrDefault(s => s.Payee.Id == key.Payee && s.Agreement.Id == key.Agreement);
        return share is null ? (0, false) : (share.Lines.Sum(l => goods[l.LineIndex]), true);
    }

    private long ConvertOrNothing(Money amount, ProgressTrack track, DateOnly on) =>
        _rules.Rates.Convert(amount.Minor, amount.Currency, track.Currency, on) ?? 0;

    private void AddTrack(PayeeId payee, Agreement agreement)
    {
        var key = Key(payee, agreement);
        if (!_tracks.TryGetValue(key, out var tracks)) _tracks[key] = tracks = [];
        if (tracks.All(t => t.Currency != agreement.Currency)) tracks.Add(new ProgressTrack(agreement.Currency));
    }

    private static (PayeeId Payee, AgreementId? Agreement) Key(PayeeId payee, Agreement agreement) =>
        (payee, agreement.Basis == Basis.Referral ? null : agreement.Id);
}
