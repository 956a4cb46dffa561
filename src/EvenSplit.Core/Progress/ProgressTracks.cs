namespace EvenSplit.Core;

/// <summary>What one event adds to one track.</summary>
public readonly record struct ProgressChange(ProgressTrack Track, ProgressFigures Figures);

/// <summary>Which tracks the terms of a rulebook ask for, and what each event adds to them (contract, section 4).</summary>
public sealed class ProgressTracks
{
    /// <summary>Orders are short; what is only needed on the way is kept off the heap for so many lines.</summary>
    private const int FewLines = 32;

    private readonly Rulebook _rules;
    private readonly List<ProgressTrack> _all = [];
    private readonly Dictionary<string, ProgressTrack[]> _byPayee = [];

    /// <param name="alsoAsked">Agreements whose payees' progress is wanted though no term asks for it.</param>
    public ProgressTracks(Rulebook rules, IReadOnlyCollection<AgreementId>? alsoAsked = null)
    {
        _rules = rules;
        foreach (var payee in rules.Payees)
        {
            var first = _all.Count;
            foreach (var agreement in payee.Memberships.Select(m => rules.Agreement(m.Agreement)).Distinct())
            {
                var asking = Asking(payee, agreement).ToArray();
                if (asking.Length == 0 && alsoAsked?.Contains(agreement.Id) != true) continue;
                var key = TrackKey.Of(payee.Id, agreement);
                var track = _all.Skip(first).FirstOrDefault(t => t.Key == key && t.Currency == agreement.Currency);
                if (track is null) _all.Add(track = new ProgressTrack(key, agreement.Currency, _all.Count));
                track.Conditions.UnionWith(asking);
            }
            if (_all.Count > first) _byPayee[payee.Id.Value] = [.. _all.Skip(first)];
        }
    }

    /// <summary>Whether no term asks for anybody's progress.</summary>
    public bool AreNone => _all.Count == 0;

    /// <summary>Every track asked for, by <see cref="ProgressTrack.Number"/>.</summary>
    public IReadOnlyList<ProgressTrack> All => _all;

    /// <returns>Null where nobody asks for it.</returns>
    public ProgressTrack? Find(TrackKey key, Currency currency)
    {
        foreach (var track in OfPayee(key.Payee))
        {
            if (track.Currency == currency && track.Key.Agreement == key.Agreement) return track;
        }
        return null;
    }

    /// <summary>What the payment adds.</summary>
    public void OfSale(OrderLedger ledger, ICollection<ProgressChange> changes)
    {
        if (AreNone) return;
        var lines = ledger.Figures.LineSpan;
        Span<long> goods = lines.Length <= FewLines ? stackalloc long[lines.Length] : new long[lines.Length];
        for (var i = 0; i < goods.Length; i++) goods[i] = lines[i].GoodsNet;
        Add(changes, ledger, goods, 1, ledger.SaleEntries);
    }

    /// <summary>What the refund takes off, its reversals included.</summary>
    public void OfRefund(OrderLedger ledger, RefundTaken taken, ICollection<ProgressChange> changes)
    {
        if (AreNone) return;
        Span<long> goods = taken.Goods.Length <= FewLines ? stackalloc long[taken.Goods.Length] : new long[taken.Goods.Length];
        for (var i = 0; i < goods.Length; i++) goods[i] = -taken.Goods[i];
        Add(changes, ledger, goods, taken.Emptied ? -1 : 0, taken.Entries);
    }

    private static IEnumerable<CaseConditions> Asking(Payee payee, Agreement agreement) => agreement.Versions.SelectMany(v => v.Terms)
        .Concat(payee.PersonalTerms.Where(p => p.Agreement == agreement.Id).Select(p => p.Term))
        .SelectMany(t => t.Cases).Select(c => c.When).Where(w => w.AskProgress);

    private ReadOnlySpan<ProgressTrack> OfPayee(PayeeId payee) => _byPayee.TryGetValue(payee.Value, out var tracks) ? tracks : [];

    private void Add(ICollection<ProgressChange> changes, OrderLedger ledger, ReadOnlySpan<long> goods, int orders, IReadOnlyList<Entry> entries)
    {
        Agreement? referral = null;
        for (var i = 0; i < ledger.Shares.Count; i++)
        {
            var share = ledger.Shares[i];
            if (share.Agreement.Basis == Basis.Referral) referral = share.Agreement;
            else Add(changes, ledger, share.Payee.Id, share.Agreement.Id, SalesOf(share, goods), orders, share.Agreement, entries);
        }
        if (ledger.Attribution.Payee is not { } attributed) return;
        long sales = 0;
        foreach (var onLine in goods) sales += onLine;
        Add(changes, ledger, attributed, null, sales, orders, referral, entries);
        for (var i = 0; i < entries.Count; i++)
        {
            if (entries[i].Part != EntryPart.Recruiter || entries[i].Payee == attributed) continue;
            // Whoever recruited the payee earns, but has not brought the order.
            Add(changes, ledger, entries[i].Payee, null, 0, 0, referral, entries);
            return;
        }
    }

    /// <param name="agreement">As in <see cref="TrackKey"/>.</param>
    /// <param name="earnedUnder">Whose entries count; null where nothing was earned.</param>
    private void Add(
        ICollection<ProgressChange> changes, OrderLedger ledger, PayeeId payee, AgreementId? agreement, long sales, int orders, Agreement? earnedUnder,
        IReadOnlyList<Entry> entries)
    {
        foreach (var track in OfPayee(payee))
        {
            if (track.Key.Agreement != agreement) continue;
            changes.Add(new ProgressChange(track, new ProgressFigures(
                InCurrency(sales, ledger.Order.Currency, track, ledger),
                orders,
                earnedUnder is null ? 0 : EarnedBy(payee, earnedUnder, track, ledger, entries))));
        }
    }

    private static long SalesOf(PinnedShare share, ReadOnlySpan<long> goods)
    {
        long sales = 0;
        foreach (var line in share.Lines) sales += goods[line.LineIndex];
        return sales;
    }

    /// <summary>The event's own entries, the sum of each currency converted by itself: the order's, and the agreement's for flat amounts.</summary>
    private long EarnedBy(PayeeId payee, Agreement agreement, ProgressTrack track, OrderLedger ledger, IReadOnlyList<Entry> entries)
    {
        var (inOrders, inAgreements) = (0L, 0L);
        for (var i = 0; i < entries.Count; i++)
        {
            var entry = entries[i];
            if (entry.Payee != payee || entry.Agreement != agreement.Id) continue;
            if (entry.Amount.Currency == ledger.Order.Currency) inOrders += entry.Amount.Minor;
            else inAgreements += entry.Amount.Minor;
        }
        return InCurrency(inOrders, ledger.Order.Currency, track, ledger) + InCurrency(inAgreements, agreement.Currency, track, ledger);
    }

    /// <summary>What cannot be converted adds nothing.</summary>
    private long InCurrency(long minor, Currency from, ProgressTrack track, OrderLedger ledger) =>
        _rules.Rates.Convert(minor, from, track.Currency, ledger.PaidOn) ?? 0;
}
