namespace EvenSplit.Core;

/// <summary>
/// The computation of one order: its sale, then its refunds one after another. Each step returns the entries it posts, which are
/// always the difference between what is owed now and what was posted before (contract, sections 6 to 8).
/// </summary>
public sealed class OrderLedger
{
    private readonly Rulebook _rules;
    private readonly LineShares _lineShares;
    private readonly WhatIsLeft _left;
    private readonly List<CalculationException> _exceptions = [];
    private readonly Dictionary<ShareKey, long> _posted = [];
    private readonly bool _explain;

    /// <summary>Works out the sale of a paid order that is no test.</summary>
    /// <param name="origin">As for <see cref="Attributor.Decide"/>.</param>
    /// <param name="explain">Whether amounts carry their trace.</param>
    /// <exception cref="ArgumentException">The order is unpaid.</exception>
    public OrderLedger(Rulebook rules, Order order, AttributionDecision? origin, IProgressBefore progress, bool explain = false)
    {
        if (order.PaidAt is not { } paidAt) throw new ArgumentException($"Order {order.Id} is unpaid and earns nothing yet.", nameof(order));
        (_rules, Order, _explain) = (rules, order, explain);
        Attribution = Attributor.Decide(rules, order, origin, _exceptions);
        Figures = OrderWaterfall.WorkOut(rules, order, Attribution.Payee is not null, _exceptions);
        Shares = new Pinning(rules, order, Figures, progress).All(Attribution.Payee);
        foreach (var waiting in Shares.Where(s => s.Waits))
        {
            _exceptions.Add(new CalculationException(ExceptionCode.RateMissing, order.Id, null, waiting.Payee.Id));
        }
        _lineShares = new LineShares(rules, order, Shares, explain);
        _left = new WhatIsLeft(rules, order, Figures);
        SaleAmounts = _lineShares.WorkOut(OrderState.AtSale(Figures));
        SaleEntries = PostDifferences(SaleAmounts, null, rules.Policy.Time.DateOf(paidAt));
        SumUp();
    }

    public Order Order { get; }
    public AttributionDecision Attribution { get; }
    public OrderFigures Figures { get; }
    public IReadOnlyList<PinnedShare> Shares { get; }
    public IReadOnlyList<ShareAmount> SaleAmounts { get; }
    public IReadOnlyList<Entry> SaleEntries { get; }
    /// <summary>All earnings at the sale, in minor units of the order's currency.</summary>
    public long Earnings { get; private set; }
    /// <summary>What the house keeps at the sale; with the other parts it makes up the whole (contract, section 6).</summary>
    public long House { get; private set; }
    /// <summary>Earnings at the sale by the earner's role, in the order's currency.</summary>
    public IReadOnlyDictionary<PayeeRole, long> EarningsByRole => _earningsByRole;
    /// <summary>Shipping, net, that was handed on to payees at the sale, in the order's currency.</summary>
    public long ShippingPassed { get; private set; }
    public bool NothingLeft => _left.NothingLeft;
    public IReadOnlyList<CalculationException> Exceptions => CalculationException.Listed(_exceptions);

    private readonly Dictionary<PayeeRole, long> _earningsByRole = [];

    /// <summary>What everybody is owed after the refunds taken so far, with traces where asked for.</summary>
    public IReadOnlyList<ShareAmount> CurrentAmounts { get; private set; } = [];

    /// <summary>An amount earned on the order in minor units of its currency, at the date of paidAt; null where there is no rate.</summary>
    public long? InOrderCurrency(Money amount) => _lineShares.InOrderCurrency(amount);

    /// <summary>The instant from which a refund counts: never before the payment.</summary>
    public DateTimeOffset TakesEffectAt(Refund refund) => refund.At < Order.PaidAt!.Value ? Order.PaidAt.Value : refund.At;

    /// <summary>Takes a refund off and posts the differences as reversals, dated by the refund.</summary>
    /// <returns>The entries, and the goods taken back per line.</returns>
    public (IReadOnlyList<Entry> Entries, IReadOnlyList<long> GoodsTaken) Take(Refund refund)
    {
        var (goodsTaken, exceeded) = _left.Take(refund);
        if (exceeded) _exceptions.Add(new CalculationException(ExceptionCode.RefundExceeds, Order.Id));
        var amounts = _lineShares.WorkOut(_left.State(_exceptions));
        return (PostDifferences(amounts, refund.Id, _rules.Policy.Time.DateOf(TakesEffectAt(refund))), goodsTaken);
    }

    private List<Entry> PostDifferences(IReadOnlyList<ShareAmount> amounts, RefundId? refund, DateOnly on)
    {
        CurrentAmounts = _explain ? amounts : [];
        var entries = new List<Entry>();
        var due = new Dictionary<ShareKey, long>(amounts.Count);
        foreach (var amount in amounts) due[amount.Key] = amount.Amount.Minor;
        foreach (var (key, posted) in _posted)
        {
            if (!due.ContainsKey(key)) due[key] = 0;
        }
        foreach (var (key, minor) in due)
        {
            var difference = minor - _posted.GetValueOrDefault(key);
            if (difference == 0) continue;
            _posted[key] = minor;
            entries.Add(ToEntry(key, difference, refund, on));
        }
        entries.Sort(Listing);
        return entries;
    }

    private Entry ToEntry(ShareKey key, long minor, RefundId? refund, DateOnly on)
    {
        var share = Shares.First(s => s.Agreement.Id == key.Agreement
            && (s.Payee.Id == key.Payee || (key.Part == EntryPart.Recruiter && s.Recruiter?.Id == key.Payee)));
        var earner = key.Part == EntryPart.Recruiter ? share.Recruiter! : share.Payee;
        var saleClears = ClearingDate.OfSale(_rules.Policy.Time, Order, earner, share.Version, Figures.Lines[key.LineIndex].Product);
        var currency = key.Part == EntryPart.Fixed ? share.Agreement.Currency : Order.Currency;
        return new Entry(
            Order.Id, Order.Lines[key.LineIndex].Id, key.Payee, key.Agreement, key.Part, refund, new Money(minor, currency), on,
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
        return byAgreement != 0 ? byAgreement : a.Part.CompareTo(b.Part);
    }

    private void SumUp()
    {
        var onLine = new long[Order.Lines.Count];
        var passed = new long[Order.Lines.Count];
        var rebatePassed = new bool[Order.Lines.Count];
        foreach (var amount in SaleAmounts)
        {
            var converted = _lineShares.InOrderCurrency(amount.Amount);
            if (converted is null) _exceptions.Add(new CalculationException(ExceptionCode.RateMissing, Order.Id));
            var minor = converted ?? 0;
            Earnings += minor;
            var role = _rules.Payee(amount.Key.Payee).Role;
            _earningsByRole[role] = _earningsByRole.GetValueOrDefault(role) + minor;
            onLine[amount.Key.LineIndex] += minor;
            if (amount.Key.Part != EntryPart.Passed) continue;
            passed[amount.Key.LineIndex] += minor;
            ShippingPassed += amount.ShippingPassed;
            rebatePassed[amount.Key.LineIndex] |= amount.Share.Version.Rebate == Treatment.Pass;
        }
        House = Figures.Charged + Figures.Rebate - Figures.Tax - Figures.ProcessingFee - Figures.ChannelFee - Earnings;
        for (var i = 0; i < onLine.Length; i++)
        {
            var line = Figures.Lines[i];
            var available = line.GoodsNet + passed[i] + (rebatePassed[i] ? 0 : line.Rebate);
            if (onLine[i] > available) _exceptions.Add(new CalculationException(ExceptionCode.OverCommitted, Order.Id, line.Line.Id));
        }
    }
}
