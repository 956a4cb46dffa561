using System.Runtime.InteropServices;

namespace EvenSplit.Core;

/// <summary>Works out everybody's shares of the lines of one order in a given state (contract, sections 5 and 6).</summary>
/// <param name="paidOn">Date of paidAt in the book's zone: every conversion is made at it.</param>
internal sealed class LineShares(Rulebook rules, Order order, DateOnly paidOn, PinnedShare[] pinned, bool explain)
{
    private readonly record struct OnLine(PinnedShare Share, PinnedLine Line, ShareRate Rate);

    private readonly record struct Part(OnLine On, PayeeId Earner, EntryPart Kind, Fraction Exact, ShareTrace? Trace);

    // Filled anew for every line and rank; a thread works out one order after another and uses the same lists for all of them.
    [ThreadStatic]
    private static (List<OnLine> Sharing, List<Part> Parts, List<ShareAmount> Amounts)? t_lists;

    private List<OnLine> _sharing = null!;
    private List<Part> _parts = null!;

    /// <summary>Every amount other than 0, line by line.</summary>
    public ShareAmount[] WorkOut(OrderState state)
    {
        (_sharing, _parts, var amounts) = t_lists ??= ([], [], []);
        amounts.Clear();
        for (var i = 0; i < order.LineSpan.Length; i++)
        {
            FindSharing(i);
            if (_sharing.Count == 0) continue;
            PassOn(i, state.Lines[i], amounts);
            var rank1 = Rank(1, i, state, 0, amounts);
            Rank(2, i, state, rank1, amounts);
        }
        return [.. amounts];
    }

    /// <summary>Minor units of the order's currency; null where there is no rate.</summary>
    public long? InOrderCurrency(Money amount) => rules.Rates.Convert(amount.Minor, amount.Currency, order.Currency, paidOn);

    private void FindSharing(int lineIndex)
    {
        _sharing.Clear();
        foreach (var share in pinned)
        {
            if (share.Waits) continue;
            foreach (var line in share.Lines)
            {
                if (line.LineIndex == lineIndex && line.Rate is { } rate) _sharing.Add(new OnLine(share, line, rate));
            }
        }
    }

    /// <summary>Posts one rank's shares of a line; returns what they come to in the order's currency.</summary>
    private long Rank(int rank, int lineIndex, OrderState state, long rank1OnLine, List<ShareAmount> amounts)
    {
        _parts.Clear();
        long total = 0;
        foreach (ref readonly var on in CollectionsMarshal.AsSpan(_sharing))
        {
            if (on.Share.Agreement.Rank != rank) continue;
            ref readonly var line = ref state.Lines[lineIndex];
            var version = on.Share.Version;
            var steps = explain ? new List<BaseStep>() : null;
            var shareBase = ShareBase.Of(version, rank, line, state.AfterRefund, rank1OnLine, steps);
            var trace = explain ? new ShareTrace { BaseSteps = steps!, Base = shareBase, Quantity = line.Quantity } : null;
            var fixedPart = on.Rate.Of == RateOf.Payee ? FixedPart(on, line.Quantity, state.NothingLeft) : 0;
            var fixedMoney = new Money(fixedPart, on.Share.Agreement.Currency);
            var fixedConverted = InOrderCurrency(fixedMoney) ?? 0;
            Post(amounts, on, on.Share.Payee.Id, EntryPart.Fixed, fixedMoney, trace);
            total += fixedConverted;
            var exact = PercentPart(on, shareBase, line.Quantity, state.NothingLeft);
            _parts.Add(new Part(on, on.Share.Payee.Id, EntryPart.Percent, exact, trace));
            if (on.Share.Recruiter is { } recruiter)
            {
                var of = version.RecruiterOf == RecruiterOf.Base ? shareBase : exact + fixedConverted;
                _parts.Add(new Part(on, recruiter.Id, EntryPart.Recruiter, of * version.RecruiterPercent!.Value, trace is null ? null : trace with { Base = of }));
            }
        }
        return total + RoundAndPost(amounts);
    }

    private long RoundAndPost(List<ShareAmount> amounts)
    {
        if (_parts.Count == 0) return 0;
        var parts = CollectionsMarshal.AsSpan(_parts);
        if (parts.Length == 1 && !explain)
        {
            var whole = parts[0].Exact.Round();
            Post(amounts, parts[0].On, parts[0].Earner, parts[0].Kind, new Money(whole, order.Currency), null);
            return whole;
        }
        var exact = new Fraction[parts.Length];
        for (var i = 0; i < parts.Length; i++) exact[i] = parts[i].Exact;
        var rounded = Allocation.RoundTogether(exact, new TiesOfParts(this, parts));
        var exactSum = explain ? exact.Aggregate(Fraction.Zero, (sum, p) => sum + p) : Fraction.Zero;
        var oddUnitsTo = explain ? OddUnitsTo(parts, rounded) : [];
        for (var i = 0; i < rounded.Length; i++)
        {
            ref readonly var part = ref parts[i];
            var trace = part.Trace is null
                ? null
                : part.Trace with { Rounding = new RoundingTrace(part.Exact, rounded[i], parts.Length - 1, exactSum, oddUnitsTo) };
            Post(amounts, part.On, part.Earner, part.Kind, new Money(rounded[i], order.Currency), trace);
        }
        long sum = 0;
        foreach (var minor in rounded) sum += minor;
        return sum;
    }

    private static List<PayeeId> OddUnitsTo(ReadOnlySpan<Part> parts, long[] rounded)
    {
        var got = new List<PayeeId>();
        for (var i = 0; i < rounded.Length; i++)
        {
            if (parts[i].Exact.Floor() < rounded[i]) got.Add(parts[i].Earner);
        }
        return got;
    }

    private readonly ref struct TiesOfParts(LineShares shares, ReadOnlySpan<Part> parts) : ITies
    {
        private readonly ReadOnlySpan<Part> _parts = parts;

        public TieKey Of(int index) => shares.Tie(_parts[index].Earner, _parts[index].On);
    }

    private readonly struct TiesOfTakers(LineShares shares, List<int> takers) : ITies
    {
        public TieKey Of(int index) => shares.Tie(shares._sharing[takers[index]].Share.Payee.Id, shares._sharing[takers[index]]);
    }

    private TieKey Tie(PayeeId earner, OnLine on) =>
        new(earner, order.Id, order.LineSpan[on.Line.LineIndex].Id, on.Share.Agreement.Id);

    private static long FixedPart(OnLine on, long quantity, bool nothingLeft) =>
        (on.Rate.PerUnit ?? 0) * quantity + (nothingLeft ? 0 : on.Line.PerOrderPart);

    private Fraction PercentPart(OnLine on, Fraction shareBase, long quantity, bool nothingLeft)
    {
        var percent = on.Rate.Percent is { } rate ? shareBase * rate : Fraction.Zero;
        if (on.Rate.Of == RateOf.Payee) return percent;
        var perUnit = InOrderCurrency(new Money((on.Rate.PerUnit ?? 0) * quantity, on.Share.Agreement.Currency)) ?? 0;
        var perOrder = nothingLeft ? 0 : on.Line.PerOrderPartConverted;
        return Fraction.Max(0, shareBase - percent - perUnit - perOrder);
    }

    private void PassOn(int lineIndex, in LineState line, List<ShareAmount> amounts)
    {
        List<PassedOn>?[]? handed = null;
        Divide(PassedKind.Tax, line.Tax, v => v.Tax == Treatment.Pass);
        Divide(PassedKind.ShippingTax, line.ShippingTax, v => v is { Tax: Treatment.Pass, Shipping: Treatment.Pass });
        Divide(PassedKind.Shipping, line.Shipping, v => v.Shipping == Treatment.Pass);
        Divide(PassedKind.Rebate, line.RebateToPass, v => v.Rebate == Treatment.Pass);
        for (var i = 0; i < handed?.Length; i++)
        {
            if (handed[i] is not { } passed || passed.Sum(p => p.Amount) is not (not 0 and var sum)) continue;
            var on = _sharing[i];
            var key = new ShareKey(lineIndex, on.Share.Payee.Id, on.Share.Agreement.Id, EntryPart.Passed);
            amounts.Add(new ShareAmount(key, new Money(sum, order.Currency), on.Share, on.Line, null) { PassedOn = passed });
        }

        void Divide(PassedKind kind, long whole, Func<AgreementVersion, bool> passes)
        {
            if (whole == 0) return;
            List<int>? takers = null;
            for (var i = 0; i < _sharing.Count; i++)
            {
                if (passes(_sharing[i].Share.Version)) (takers ??= []).Add(i);
            }
            if (takers is null) return;
            var parts = Allocation.AllocateEvenly(whole, takers.Count, new TiesOfTakers(this, takers));
            handed ??= new List<PassedOn>?[_sharing.Count];
            for (var t = 0; t < takers.Count; t++) (handed[takers[t]] ??= []).Add(new PassedOn(kind, parts[t], whole, takers.Count));
        }
    }

    private static void Post(List<ShareAmount> amounts, in OnLine on, PayeeId earner, EntryPart part, Money amount, ShareTrace? trace)
    {
        if (amount.Minor == 0) return;
        amounts.Add(new ShareAmount(new ShareKey(on.Line.LineIndex, earner, on.Share.Agreement.Id, part), amount, on.Share, on.Line, trace));
    }
}
