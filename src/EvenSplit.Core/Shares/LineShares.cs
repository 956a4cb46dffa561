namespace EvenSplit.Core;

/// <summary>Works out everybody's shares of the lines of one order in a given state (contract, sections 5 and 6).</summary>
internal sealed class LineShares(Rulebook rules, Order order, IReadOnlyList<PinnedShare> pinned, bool explain)
{
    private readonly DateOnly _paidOn = rules.Policy.Time.DateOf(order.PaidAt!.Value);

    private readonly record struct OnLine(PinnedShare Share, PinnedLine Line, ShareRate Rate);

    /// <summary>Every amount other than 0, line by line.</summary>
    public List<ShareAmount> WorkOut(OrderState state)
    {
        var amounts = new List<ShareAmount>();
        for (var i = 0; i < order.Lines.Count; i++)
        {
            var sharing = SharingIn(i);
            if (sharing.Count == 0) continue;
            PassOn(sharing, i, state.Lines[i], amounts);
            var rank1 = Rank(sharing.Where(s => s.Share.Agreement.Rank == 1), i, state, 0, amounts);
            Rank(sharing.Where(s => s.Share.Agreement.Rank == 2), i, state, rank1, amounts);
        }
        amounts.RemoveAll(a => a.Amount.Minor == 0);
        return amounts;
    }

    /// <summary>Minor units of the order's currency; null where there is no rate.</summary>
    public long? InOrderCurrency(Money amount) => rules.Rates.Convert(amount.Minor, amount.Currency, order.Currency, _paidOn);

    private List<OnLine> SharingIn(int lineIndex)
    {
        var sharing = new List<OnLine>();
        foreach (var share in pinned)
        {
            if (share.Waits) continue;
            foreach (var line in share.Lines)
            {
                if (line.LineIndex == lineIndex && line.Rate is { } rate) sharing.Add(new OnLine(share, line, rate));
            }
        }
        return sharing;
    }

    /// <summary>Posts one rank's shares of a line; returns what they come to in the order's currency.</summary>
    private long Rank(IEnumerable<OnLine> sharing, int lineIndex, OrderState state, long rank1OnLine, List<ShareAmount> amounts)
    {
        var parts = new List<(OnLine On, PayeeId Earner, EntryPart Part, Fraction Exact, TieKey Tie, ShareTrace? Trace)>();
        long total = 0;
        foreach (var on in sharing)
        {
            var line = state.Lines[lineIndex];
            var version = on.Share.Version;
            var steps = explain ? new List<BaseStep>() : null;
            var shareBase = ShareBase.Of(version, on.Share.Agreement.Rank, line, state.AfterRefund, rank1OnLine, steps);
            var trace = explain ? new ShareTrace { BaseSteps = steps!, Base = shareBase, Quantity = line.Quantity } : null;
            var fixedPart = on.Rate.Of == RateOf.Payee ? FixedPart(on, line.Quantity, state.NothingLeft) : 0;
            var fixedMoney = new Money(fixedPart, on.Share.Agreement.Currency);
            var fixedConverted = InOrderCurrency(fixedMoney) ?? 0;
            Post(amounts, on, on.Share.Payee.Id, EntryPart.Fixed, fixedMoney, trace);
            total += fixedConverted;
            var exact = PercentPart(on, shareBase, line.Quantity, state.NothingLeft);
            Collect(parts, on, on.Share.Payee.Id, EntryPart.Percent, exact, trace);
            if (on.Share.Recruiter is { } recruiter)
            {
                var of = version.RecruiterOf == RecruiterOf.Base ? shareBase : exact + fixedConverted;
                Collect(parts, on, recruiter.Id, EntryPart.Recruiter, of * version.RecruiterPercent!.Value, trace is null ? null : trace with { Base = of });
            }
        }
        return total + RoundAndPost(parts, amounts);
    }

    private long RoundAndPost(
        List<(OnLine On, PayeeId Earner, EntryPart Part, Fraction Exact, TieKey Tie, ShareTrace? Trace)> parts, List<ShareAmount> amounts)
    {
        if (parts.Count == 0) return 0;
        var rounded = Allocation.RoundTogether(
            parts.Select(p => p.Exact).ToArray(),
            parts.Select(p => p.Tie).ToArray());
        var exactSum = explain ? parts.Aggregate(Fraction.Zero, (sum, p) => sum + p.Exact) : Fraction.Zero;
        for (var i = 0; i < rounded.Length; i++)
        {
            var part = parts[i];
            var trace = part.Trace is null
                ? null
                : part.Trace with { Rounding = new RoundingTrace(part.Exact, rounded[i], parts.Count - 1, exactSum) };
            Post(amounts, part.On, part.Earner, part.Part, new Money(rounded[i], order.Currency), trace);
        }
        return rounded.Sum();
    }

    private void Collect(
        List<(OnLine On, PayeeId Earner, EntryPart Part, Fraction Exact, TieKey Tie, ShareTrace? Trace)> parts,
        OnLine on, PayeeId earner, EntryPart part, Fraction exact, ShareTrace? trace) =>
        parts.Add((on, earner, part, exact, Tie(earner, on), trace));

    private TieKey Tie(PayeeId earner, OnLine on) =>
        new(earner, order.Id, order.Lines[on.Line.LineIndex].Id, on.Share.Agreement.Id);

    private static long FixedPart(OnLine on, long quantity, bool nothingLeft) =>
        (on.Rate.PerUnit ?? 0) * quantity + (nothingLeft ? 0 : on.Line.PerOrderPart);

    private Fraction PercentPart(OnLine on, Fraction shareBase, long quantity, bool nothingLeft)
    {
        var percent = shareBase * (on.Rate.Percent ?? Rate.Zero);
        if (on.Rate.Of == RateOf.Payee) return percent;
        var perUnit = InOrderCurrency(new Money((on.Rate.PerUnit ?? 0) * quantity, on.Share.Agreement.Currency)) ?? 0;
        var perOrder = nothingLeft ? 0 : on.Line.PerOrderPartConverted;
        return Fraction.Max(0, shareBase - percent - perUnit - perOrder);
    }

    private void PassOn(List<OnLine> sharing, int lineIndex, in LineState line, List<ShareAmount> amounts)
    {
        var handed = new Dictionary<int, List<PassedOn>>();
        Divide(PassedKind.Tax, line.Tax, v => v.Tax == Treatment.Pass);
        Divide(PassedKind.ShippingTax, line.ShippingTax, v => v is { Tax: Treatment.Pass, Shipping: Treatment.Pass });
        Divide(PassedKind.Shipping, line.Shipping, v => v.Shipping == Treatment.Pass);
        Divide(PassedKind.Rebate, line.RebateToPass, v => v.Rebate == Treatment.Pass);
        foreach (var (index, passed) in handed)
        {
            var on = sharing[index];
            var key = new ShareKey(lineIndex, on.Share.Payee.Id, on.Share.Agreement.Id, EntryPart.Passed);
            amounts.Add(new ShareAmount(key, new Money(passed.Sum(p => p.Amount), order.Currency), on.Share, on.Line, null) { PassedOn = passed });
        }

        void Divide(PassedKind kind, long whole, Func<AgreementVersion, bool> passes)
        {
            if (whole == 0) return;
            var takers = Enumerable.Range(0, sharing.Count).Where(i => passes(sharing[i].Share.Version)).ToArray();
            if (takers.Length == 0) return;
            var parts = Allocation.AllocateEvenly(whole, Array.ConvertAll(takers, i => Tie(sharing[i].Share.Payee.Id, sharing[i])));
            for (var t = 0; t < takers.Length; t++)
            {
                if (!handed.TryGetValue(takers[t], out var passed)) handed[takers[t]] = passed = [];
                passed.Add(new PassedOn(kind, parts[t], whole, takers.Length));
            }
        }
    }

    private static void Post(List<ShareAmount> amounts, OnLine on, PayeeId earner, EntryPart part, Money amount, ShareTrace? trace) =>
        amounts.Add(new ShareAmount(new ShareKey(on.Line.LineIndex, earner, on.Share.Agreement.Id, part), amount, on.Share, on.Line, trace));
}
