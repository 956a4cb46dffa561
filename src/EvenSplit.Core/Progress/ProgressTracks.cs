namespace EvenSplit.Core;

/// <summary>Whose progress is counted. Under referral all agreements of a payee share their figures, so the agreement is null.</summary>
public readonly record struct TrackKey(PayeeId Payee, AgreementId? Agreement)
{
    public static TrackKey Of(PayeeId payee, Agreement agreement) => new(payee, agreement.Basis == Basis.Referral ? null : agreement.Id);
}

/// <summary>What one event adds to one track, in a currency that some agreement asks in.</summary>
public readonly record struct ProgressChange(TrackKey Track, Currency Currency, ProgressFigures Figures);

/// <summary>Which tracks the terms of a rulebook ask for, and what each event adds to them (contract, section 4).</summary>
public sealed class ProgressTracks
{
    private readonly Rulebook _rules;
    private readonly Dictionary<TrackKey, List<Currency>> _asked = [];
    private readonly Dictionary<(TrackKey Track, Currency Currency), HashSet<CaseConditions>> _conditions = [];

    public ProgressTracks(Rulebook rules)
    {
        _rules = rules;
        foreach (var payee in rules.Payees)
        {
            foreach (var agreement in payee.Memberships.Select(m => rules.Agreement(m.Agreement)).Distinct())
            {
                var asking = Asking(payee, agreement).ToArray();
                if (asking.Length == 0) continue;
                var key = TrackKey.Of(payee.Id, agreement);
                if (!_asked.TryGetValue(key, out var currencies)) _asked[key] = currencies = [];
                if (!currencies.Contains(agreement.Currency)) currencies.Add(agreement.Currency);
                if (!_conditions.TryGetValue((key, agreement.Currency), out var conditions)) _conditions[(key, agreement.Currency)] = conditions = [];
                conditions.UnionWith(asking);
            }
        }
    }

    /// <summary>Whether no term asks for anybody's progress.</summary>
    public bool AreNone => _asked.Count == 0;

    /// <summary>Every track asked for, with the currencies it is asked in.</summary>
    public IReadOnlyDictionary<TrackKey, List<Currency>> Asked => _asked;

    /// <summary>What the payment adds.</summary>
    public IReadOnlyList<ProgressChange> OfSale(OrderLedger ledger)
    {
        if (AreNone) return [];
        var goods = new long[ledger.Figures.Lines.Count];
        for (var i = 0; i < goods.Length; i++) goods[i] = ledger.Figures.Lines[i].GoodsNet;
        return Changes(ledger, goods, 1, ledger.SaleEntries);
    }

    /// <summary>What the refund takes off, its reversals included.</summary>
    public IReadOnlyList<ProgressChange> OfRefund(OrderLedger ledger, RefundTaken taken) =>
        AreNone ? [] : Changes(ledger, Array.ConvertAll(taken.Goods, g => -g), taken.Emptied ? -1 : 0, taken.Entries);

    /// <summary>Whether some condition that asks a track holds in one state and not in the other, for an order paid on a date.</summary>
    public bool Differ(TrackKey track, Currency currency, in ProgressState one, in ProgressState other, DateOnly paidOn)
    {
        if (!_conditions.TryGetValue((track, currency), out var conditions)) return false;
        foreach (var when in conditions)
        {
            if (when.HoldFor(one.Highest(when.Window, paidOn)) != when.HoldFor(other.Highest(when.Window, paidOn))) return true;
        }
        return false;
    }

    private static IEnumerable<CaseConditions> Asking(Payee payee, Agreement agreement) => agreement.Versions.SelectMany(v => v.Terms)
        .Concat(payee.PersonalTerms.Where(p => p.Agreement == agreement.Id).Select(p => p.Term))
        .SelectMany(t => t.Cases).Select(c => c.When).Where(w => w.AskProgress);

    private List<ProgressChange> Changes(OrderLedger ledger, long[] goods, int orders, IReadOnlyList<Entry> entries)
    {
        var changes = new List<ProgressChange>();
        foreach (var track in Touched(ledger, entries))
        {
            var (sales, counts) = SalesFor(ledger, track, goods);
            foreach (var currency in _asked[track])
            {
                changes.Add(new ProgressChange(track, currency, new ProgressFigures(
                    InCurrency(new Money(sales, ledger.Order.Currency), currency, ledger.PaidOn),
                    counts ? orders : 0,
                    EarnedBy(track, entries, currency, ledger.PaidOn))));
            }
        }
        return changes;
    }

    private List<TrackKey> Touched(OrderLedger ledger, IReadOnlyList<Entry> entries)
    {
        var touched = new List<TrackKey>();
        if (ledger.Attribution.Payee is { } attributed) Add(new TrackKey(attributed, null));
        foreach (var share in ledger.Shares) Add(TrackKey.Of(share.Payee.Id, share.Agreement));
        foreach (var entry in entries) Add(TrackOf(entry));
        return touched;

        void Add(TrackKey key)
        {
            if (_asked.ContainsKey(key) && !touched.Contains(key)) touched.Add(key);
        }
    }

    private TrackKey TrackOf(Entry entry) => TrackKey.Of(entry.Payee, _rules.Agreement(entry.Agreement));

    private static (long Sales, bool Counts) SalesFor(OrderLedger ledger, TrackKey track, long[] goods)
    {
        if (track.Agreement is null) return ledger.Attribution.Payee == track.Payee ? (goods.Sum(), true) : (0, false);
        foreach (var share in ledger.Shares)
        {
            if (share.Payee.Id == track.Payee && share.Agreement.Id == track.Agreement) return (share.Lines.Sum(l => goods[l.LineIndex]), true);
        }
        return (0, false);
    }

    /// <summary>The event's own entries, the sum of each currency converted by itself.</summary>
    private long EarnedBy(TrackKey track, IReadOnlyList<Entry> entries, Currency currency, DateOnly paidOn)
    {
        var sums = new List<Money>(2);
        foreach (var entry in entries)
        {
            if (TrackOf(entry) != track) continue;
            var at = sums.FindIndex(s => s.Currency == entry.Amount.Currency);
            if (at < 0) sums.Add(entry.Amount);
            else sums[at] += entry.Amount;
        }
        long earned = 0;
        foreach (var sum in sums) earned += InCurrency(sum, currency, paidOn);
        return earned;
    }

    /// <summary>What cannot be converted adds nothing.</summary>
    private long InCurrency(Money amount, Currency currency, DateOnly on) =>
        _rules.Rates.Convert(amount.Minor, amount.Currency, currency, on) ?? 0;
}
