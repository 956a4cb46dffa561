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
    /// <summary>Orders are short; what is only needed on the way is kept off the heap for so many lines.</summary>
    private const int FewLines = 32;

    // A thread counts one event after another and gathers here the tracks of each, and the track of each of its entries.
    [ThreadStatic]
    private static (List<TrackKey> Touched, List<TrackKey> OfEntries)? t_lists;

    private readonly Rulebook _rules;
    private readonly Dictionary<TrackKey, List<Currency>> _asked = [];
    private readonly Dictionary<(TrackKey Track, Currency Currency), HashSet<CaseConditions>> _conditions = [];

    /// <param name="alsoAsked">Agreements whose payees' progress is wanted though no term asks for it.</param>
    public ProgressTracks(Rulebook rules, IReadOnlyCollection<AgreementId>? alsoAsked = null)
    {
        _rules = rules;
        foreach (var payee in rules.Payees)
        {
            foreach (var agreement in payee.Memberships.Select(m => rules.Agreement(m.Agreement)).Distinct())
            {
                var asking = Asking(payee, agreement).ToArray();
                if (asking.Length == 0 && alsoAsked?.Contains(agreement.Id) != true) continue;
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
    public void OfSale(OrderLedger ledger, ICollection<ProgressChange> changes)
    {
        if (AreNone) return;
        var lines = ledger.Figures.Lines;
        Span<long> goods = lines.Count <= FewLines ? stackalloc long[lines.Count] : new long[lines.Count];
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

    private void Add(ICollection<ProgressChange> changes, OrderLedger ledger, ReadOnlySpan<long> goods, int orders, IReadOnlyList<Entry> entries)
    {
        var (touched, ofEntries) = t_lists ??= ([], []);
        touched.Clear();
        ofEntries.Clear();
        if (ledger.Attribution.Payee is { } attributed) touched.Add(new TrackKey(attributed, null));
        for (var i = 0; i < ledger.Shares.Count; i++) Touch(touched, TrackKey.Of(ledger.Shares[i].Payee.Id, ledger.Shares[i].Agreement));
        for (var i = 0; i < entries.Count; i++)
        {
            ofEntries.Add(TrackKey.Of(entries[i].Payee, _rules.Agreement(entries[i].Agreement)));
            Touch(touched, ofEntries[i]);
        }
        foreach (var track in touched)
        {
            if (!_asked.TryGetValue(track, out var currencies)) continue;
            var (sales, counts) = SalesFor(ledger, track, goods);
            foreach (var currency in currencies)
            {
                changes.Add(new ProgressChange(track, currency, new ProgressFigures(
                    InCurrency(new Money(sales, ledger.Order.Currency), currency, ledger.PaidOn),
                    counts ? orders : 0,
                    EarnedBy(track, ofEntries, entries, currency, ledger.PaidOn))));
            }
        }
    }

    private static void Touch(List<TrackKey> touched, TrackKey key)
    {
        if (!touched.Contains(key)) touched.Add(key);
    }

    private static (long Sales, bool Counts) SalesFor(OrderLedger ledger, TrackKey track, ReadOnlySpan<long> goods)
    {
        long sales = 0;
        if (track.Agreement is null)
        {
            if (ledger.Attribution.Payee != track.Payee) return (0, false);
            foreach (var onLine in goods) sales += onLine;
            return (sales, true);
        }
        for (var i = 0; i < ledger.Shares.Count; i++)
        {
            var share = ledger.Shares[i];
            if (share.Payee.Id != track.Payee || share.Agreement.Id != track.Agreement) continue;
            foreach (var line in share.Lines) sales += goods[line.LineIndex];
            return (sales, true);
        }
        return (0, false);
    }

    /// <summary>The event's own entries, the sum of each currency converted by itself.</summary>
    private long EarnedBy(TrackKey track, List<TrackKey> ofEntries, IReadOnlyList<Entry> entries, Currency currency, DateOnly paidOn)
    {
        long earned = 0;
        for (var i = 0; i < entries.Count; i++)
        {
            if (!ofEntries[i].Equals(track)) continue;
            var own = entries[i].Amount.Currency;
            var (sum, isFirst) = (0L, true);
            for (var j = 0; j < entries.Count; j++)
            {
                if (entries[j].Amount.Currency != own || !ofEntries[j].Equals(track)) continue;
                sum += entries[j].Amount.Minor;
                isFirst &= j >= i;
            }
            if (isFirst) earned += InCurrency(new Money(sum, own), currency, paidOn);
        }
        return earned;
    }

    /// <summary>What cannot be converted adds nothing.</summary>
    private long InCurrency(Money amount, Currency currency, DateOnly on) =>
        _rules.Rates.Convert(amount.Minor, amount.Currency, currency, on) ?? 0;
}
