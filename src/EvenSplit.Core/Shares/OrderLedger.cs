namespace EvenSplit.Core;

/// <summary>What a refund came to.</summary>
/// <param name="Entries">The reversals it posts.</param>
/// <param name="Goods">The goods it took back per line, minor units of the order's currency.</param>
/// <param name="Emptied">Whether it is the one that left nothing of the order.</param>
public sealed record RefundTaken(IReadOnlyList<Entry> Entries, long[] Goods, bool Emptied);

/// <summary>
/// The computation of one order: its sale, then its refunds one after another. Each step returns the entries it posts, which are
/// always the difference between what is owed now and what was posted before (contract, sections 6 to 8).
/// </summary>
public sealed class OrderLedger
{
    private readonly Rulebook _rules;
    private readonly LineShares _lineShares;
    private readonly List<CalculationException> _exceptions = new(0);
    private readonly bool _explain;
    private WhatIsLeft? _left;
    private ShareAmount[] _posted;

    /// <summary>Works out the sale of a paid order that is no test.</summary>
    /// <param name="origin">As for <see cref="Attributor.Decide"/>.</param>
    /// <param name="explain">Whether amounts carry their trace.</param>
    /// <exception cref="ArgumentException">The order is unpaid.</exception>
    public OrderLedger(Rulebook rules, Order order, AttributionDecision? origin, IProgressBefore progress, bool explain = false)
    {
        if (order.PaidAt is not { } paidAt) throw new ArgumentException($"Order {order.Id} is unpaid and earns nothing yet.", nameof(order));
        (_rules, Order, _explain) = (rules, order, explain);
        (PlacedOn, PaidOn) = (rules.Policy.Time.DateOf(order.PlacedAt), rules.Policy.Time.DateOf(paidAt));
        Attribution = Attributor.Decide(rules, order, origin, _exceptions, explain);
        Figures = OrderWaterfall.WorkOut(rules, order, Attribution.Payee is not null, _exceptions);
        var shares = new Pinning(rules, order, Figures, PlacedOn, PaidOn, progress, explain).All(Attribution.Payee);
        Shares = shares;
        foreach (var share in shares)
        {
            if (share.Waits) _exceptions.Add(new CalculationException(ExceptionCode.RateMissing, order.Id, null, share.Payee.Id));
        }
        _lineShares = new LineShares(rules, order, PaidOn, shares, explain);
        _posted = shares.Length == 0 ? [] : _lineShares.WorkOut(OrderState.AtSale(Figures));
        SaleAmounts = _posted;
        SaleEntries = PostSale(_posted);
        CurrentAmounts = explain ? SaleAmounts : [];
        SumUp(_posted);
    }

    public Order Order { get; }
    /// <summary>Date of placedAt in the book's zone.</summary>
    public DateOnly PlacedOn { get; }
    /// <summary>Date of paidAt in the book's zone.</summary>
    public DateOnly PaidOn { get; }
    public AttributionDecision Attribution { get; }
    public OrderFigures Figures { get; }
    public IReadOnlyList<PinnedShare> Shares { get; }
    public IReadOnlyList<ShareAmount> SaleAmounts { get; }
    public IReadOnlyList<Entry> SaleEntries { get; }
    /// <summary>All earnings at the sale, in minor units of the order's currency.</summary>
    public long Earnings { get; private set; }
    /// <summary>What the house keeps at the sale; with the other parts it makes up the whole (contract, section 6).</summary>
    public long House { get; private set; }
    /// <summary>Shipping, net, that was handed on to payees at the sale, in the order's currency.</summary>
    public long ShippingPassed => SaleAmounts.Sum(a => a.ShippingPassed);
    public bool NothingLeft => _left is { NothingLeft: true };
    public IReadOnlyList<CalculationException> Exceptions => _exceptions.Count == 0 ? [] : CalculationException.Listed(_exceptions);
    /// <summary>As they came, some perhaps more than once.</summary>
    internal IReadOnlyCollection<CalculationException> RawExceptions => _exceptions;

    /// <summary>What everybody is owed after the refunds taken so far, with traces where asked for.</summary>
    public IReadOnlyList<ShareAmount> CurrentAmounts { get; private set; }

    /// <summary>What refunds have posted so far; recorded only where the order is worked out with traces.</summary>
    public IReadOnlyList<Entry> Reversals => _reversals;

    private readonly List<Entry> _reversals = new(0);

    /// <summary>Earnings at the sale of payees in a role, in the order's currency.</summary>
    public long EarnedBy(PayeeRole role) =>
        SaleAmounts.Where(a => _rules.Payee(a.Key.Payee).Role == role).Sum(a => InOrderCurrency(a.Amount) ?? 0);

    /// <summary>An amount earned on the order in minor units of its currency, at the date of paidAt; null where there is no rate.</summary>
    public long? InOrderCurrency(Money amount) => _lineShares.InOrderCurrency(amount);

    /// <summary>Whether the cases chosen at the sale would be chosen with other progress too.</summary>
    public bool HoldsFor(IProgressBefore progress) =>
        Shares.Count == 0 || new Pinning(_rules, Order, Figures, PlacedOn, PaidOn, progress, explain: false).HoldsFor(Shares);

    /// <summary>Takes a refund off and posts the differences as reversals, dated by the refund.</summary>
    public RefundTaken Take(Refund refund)
    {
        _left ??= new WhatIsLeft(_rules, Order, Figures);
        var wasEmpty = _left.NothingLeft;
        var (goodsTaken, exceeded) = _left.Take(refund);
        if (exceeded) _exceptions.Add(new CalculationException(ExceptionCode.RefundExceeds, Order.Id));
        ShareAmount[] amounts = Shares.Count == 0 ? [] : _lineShares.WorkOut(_left.State(_exceptions));
        if (_explain) CurrentAmounts = amounts;
        var entries = PostDifferences(amounts, refund.Id, _rules.Policy.Time.DateOf(refund.TakesEffectAt(Order.PaidAt!.Value)));
        if (_explain) _reversals.AddRange(entries);
        return new RefundTaken(entries, goodsTaken, !wasEmpty && _left.NothingLeft);
    }

    private Entry[] PostSale(ShareAmount[] amounts)
    {
        if (amounts.Length == 0) return [];
        var entries = new Entry[amounts.Length];
        for (var i = 0; i < entries.Length; i++) entries[i] = ToEntry(amounts[i].Key, amounts[i].Share, amounts[i].Amount.Minor, null, PaidOn);
        if (entries.Length > 1) Array.Sort(entries, Listing);
        return entries;
    }

    private List<Entry> PostDifferences(ShareAmount[] due, RefundId refund, DateOnly on)
    {
        var entries = new List<Entry>();
        // Both come in the same order of lines and payees, so that what is looked for mostly comes next.
        var expected = 0;
        for (var i = 0; i < due.Length; i++)
        {
            var at = Find(_posted, due[i].Key, expected);
            if (at >= 0) expected = at + 1;
            Post(due[i], due[i].Amount.Minor - (at < 0 ? 0 : _posted[at].Amount.Minor));
        }
        expected = 0;
        for (var i = 0; i < _posted.Length; i++)
        {
            var at = Find(due, _posted[i].Key, expected);
            if (at >= 0) expected = at + 1;
            else Post(_posted[i], -_posted[i].Amount.Minor);
        }
        _posted = due;
        entries.Sort(Listing);
        return entries;

        void Post(ShareAmount amount, long difference)
        {
            if (difference != 0) entries.Add(ToEntry(amount.Key, amount.Share, difference, refund, on));
        }
    }

    /// <returns>Below 0 where there is none.</returns>
    private static int Find(ShareAmount[] amounts, in ShareKey key, int expected)
    {
        for (var i = expected; i < amounts.Length; i++)
        {
            if (amounts[i].Key == key) return i;
        }
        for (var i = 0; i < Math.Min(expected, amounts.Length); i++)
        {
            if (amounts[i].Key == key) return i;
        }
        return -1;
    }

    private Entry ToEntry(ShareKey key, PinnedShare share, long minor, RefundId? refund, DateOnly on)
    {
        var earner = key.Part == EntryPart.Recruiter ? share.Recruiter! : share.Payee;
        var saleClears = ClearingDate.OfSale(_rules.Policy.Time, Order, PaidOn, earner, share.Version, Figures.LineSpan[key.LineIndex].Product);
        var currency = key.Part == EntryPart.Fixed ? share.Agreement.Currency : Order.Currency;
        return new Entry(
            Order.Id, Order.LineSpan[key.LineIndex].Id, key.Payee, key.Agreement, key.Part, refund, new Money(minor, currency), on,
            refund is null ? saleClears : ClearingDate.OfRefund(on, saleClears));
    }

    /// <summary>Entries of one event: line, payee, agreement, part (contract, section 10).</summary>
    private static int Listing(Entry a, Entry b)
    {
        var byLine = a.Line.CompareTo(b.Line);
        if (byLine != 0) return byLine;
        var byPayee = a.Payee.CompareTo(b.Payee);
        if (byPayee != 0) return byPayee;
        var byAgreement = a.Agreement.CompareTo(b.Agreement);
        return byAgreement != 0 ? byAgreement : (int)a.Part - (int)b.Part;
    }

    private void SumUp(ShareAmount[] amounts)
    {
        House = Figures.Charged + Figures.Rebate - Figures.Tax - Figures.ProcessingFee - Figures.ChannelFee;
        if (amounts.Length == 0) return;
        var count = Order.LineSpan.Length;
        Span<LineSum> onLine = count <= OrderWaterfall.FewLines ? stackalloc LineSum[count] : new LineSum[count];
        foreach (var amount in amounts)
        {
            var converted = _lineShares.InOrderCurrency(amount.Amount);
            if (converted is null) _exceptions.Add(new CalculationException(ExceptionCode.RateMissing, Order.Id));
            var minor = converted ?? 0;
            Earnings += minor;
            ref var line = ref onLine[amount.Key.LineIndex];
            line.Earned += minor;
            if (amount.Key.Part != EntryPart.Passed) continue;
            line.Passed += minor;
            line.RebatePassed |= amount.Passes(PassedKind.Rebate);
        }
        House -= Earnings;
        for (var i = 0; i < onLine.Length; i++)
        {
            ref readonly var line = ref Figures.LineSpan[i];
            var available = line.GoodsNet + onLine[i].Passed + (onLine[i].RebatePassed ? 0 : line.Rebate);
            if (onLine[i].Earned > available) _exceptions.Add(new CalculationException(ExceptionCode.OverCommitted, Order.Id, line.Line.Id));
        }
    }

    private struct LineSum
    {
        public long Earned;
        public long Passed;
        public bool RebatePassed;
    }
}
