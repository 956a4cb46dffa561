namespace EvenSplit.Core;

/// <summary>Decides who brought an order (contract, section 3).</summary>
public static class Attributor
{
    /// <param name="origin">
    /// The decision on the order this one renews; null where it renews none, or its origin is a test, unpaid or unknown.
    /// </param>
    /// <param name="exceptions">Receives <c>payee-inactive</c> and <c>self-referral</c>.</param>
    /// <param name="explain">Whether the decision names every candidate, those after the winner too.</param>
    public static AttributionDecision Decide(
        Rulebook rules, Order order, AttributionDecision? origin, ICollection<CalculationException> exceptions, bool explain = false)
    {
        if (origin is null && order.ManualPayee is null && order.Codes.Count == 0 && order.Clicks.Count == 0) return AttributionDecision.Nobody;
        var placedOn = rules.Policy.Time.DateOf(order.PlacedAt);
        return origin is null
            ? FirstToQualify(rules, order, placedOn, exceptions, explain)
            : ByRenewal(rules, order, origin, placedOn, exceptions);
    }

    private static AttributionDecision ByRenewal(
        Rulebook rules, Order order, AttributionDecision origin, DateOnly placedOn, ICollection<CalculationException> exceptions)
    {
        if (origin.Payee is not { } id) return AttributionDecision.Nobody;
        var payee = rules.Payee(id);
        var verdict = Qualify(rules, payee, placedOn);
        var candidate = new AttributionCandidate(id, AttributionVia.Renewal, order.Origin?.Value, null, verdict);
        if (verdict == CandidateVerdict.Won) return new AttributionDecision(id, AttributionVia.Renewal, [candidate]);
        if (verdict == CandidateVerdict.Inactive) exceptions.Add(new CalculationException(ExceptionCode.PayeeInactive, order.Id, null, id));
        return new AttributionDecision(null, null, [candidate]);
    }

    /// <summary>In the order in which they are asked: the assignment by hand, codes from the last, clicks as the book's model says.</summary>
    private static AttributionDecision FirstToQualify(
        Rulebook rules, Order order, DateOnly placedOn, ICollection<CalculationException> exceptions, bool explain)
    {
        var search = new Search(rules, order, placedOn, exceptions, explain);
        if (order.ManualPayee is { } manual) search.LookAt(rules.Payee(manual), AttributionVia.Manual, null, null, null);
        for (var i = order.Codes.Count - 1; i >= 0 && search.GoesOn; i--)
        {
            var payee = rules.FindPayeeByCode(order.Codes[i], placedOn);
            CandidateVerdict? ruledOut = payee is not null ? null : rules.OwnersOfCode(order.Codes[i]).Any() ? CandidateVerdict.CodeNotInForce : CandidateVerdict.UnknownCode;
            search.LookAt(payee, AttributionVia.Code, order.Codes[i], null, ruledOut);
        }
        if (!search.GoesOn || order.Clicks.Count == 0) return search.Decision;
        foreach (var click in ByModel(order.Clicks, rules.Policy.ClickModel))
        {
            if (!search.GoesOn) break;
            var payee = rules.Payee(click.Payee);
            search.LookAt(payee, AttributionVia.Click, null, click.At, OutOfTime(rules, order, click, payee, placedOn));
        }
        return search.Decision;
    }

    /// <summary>Goes on until somebody has won; where it is to be explained, beyond.</summary>
    private struct Search(Rulebook rules, Order order, DateOnly placedOn, ICollection<CalculationException> exceptions, bool explain)
    {
        private readonly List<AttributionCandidate>? _looked = explain ? [] : null;
        private PayeeId? _winner;
        private AttributionVia? _via;

        public readonly bool GoesOn => _winner is null || explain;

        public readonly AttributionDecision Decision => new(_winner, _via, _looked ?? []);

        public void LookAt(Payee? payee, AttributionVia via, string? evidence, DateTimeOffset? clickedAt, CandidateVerdict? ruledOut)
        {
            var verdict = ruledOut ?? (_winner is not null ? CandidateVerdict.NotNeeded : Qualify(rules, payee!, placedOn));
            if (verdict == CandidateVerdict.Won && IsBuyer(rules, payee!, order)) verdict = CandidateVerdict.SelfReferral;
            if (verdict == CandidateVerdict.Inactive) exceptions.Add(new CalculationException(ExceptionCode.PayeeInactive, order.Id, null, payee!.Id));
            if (verdict == CandidateVerdict.SelfReferral) exceptions.Add(new CalculationException(ExceptionCode.SelfReferral, order.Id, null, payee!.Id));
            if (verdict == CandidateVerdict.Won) (_winner, _via) = (payee!.Id, via);
            _looked?.Add(new AttributionCandidate(payee?.Id, via, evidence, clickedAt, verdict));
        }
    }

    /// <summary>
    /// Whom codes on an order belong to that could not earn by them: the code was not in force that day, or they were on no referral agreement. It is for a person to
    /// look at and changes no figure. None where somebody was assigned by hand, or the order renews another.
    /// </summary>
    public static IEnumerable<PayeeId> CodesWithoutEffect(Rulebook rules, Order order)
    {
        if (order.Codes.Count == 0 || order.Origin is not null || order.ManualPayee is not null) return [];
        var placedOn = rules.Policy.Time.DateOf(order.PlacedAt);
        return order.Codes.SelectMany(code => rules.FindPayeeByCode(code, placedOn) is not { } payee ? rules.OwnersOfCode(code)
            : rules.ReferralInForce(payee, placedOn) is null ? [payee] : []).Select(p => p.Id).Distinct();
    }

    private static IEnumerable<Click> ByModel(IReadOnlyList<Click> clicks, ClickModel model)
    {
        if (clicks.Count < 2) return clicks;
        var byTime = clicks.ToArray();
        // At the same instant the later in the list counts as later: a sort that keeps the order of equals.
        for (var i = 1; i < byTime.Length; i++)
        {
            var click = byTime[i];
            var at = i;
            for (; at > 0 && byTime[at - 1].At > click.At; at--) byTime[at] = byTime[at - 1];
            byTime[at] = click;
        }
        if (model == ClickModel.Last) Array.Reverse(byTime);
        return byTime;
    }

    private static CandidateVerdict? OutOfTime(Rulebook rules, Order order, Click click, Payee payee, DateOnly placedOn)
    {
        if (click.At > order.PlacedAt) return CandidateVerdict.AfterOrder;
        var window = rules.ReferralInForce(payee, placedOn)?.Version.WindowDays;
        return window is { } days && (order.PlacedAt - click.At).Ticks > (Int128)days * TimeSpan.TicksPerDay ? CandidateVerdict.OutsideWindow : null;
    }

    private static CandidateVerdict Qualify(Rulebook rules, Payee payee, DateOnly placedOn)
    {
        if (rules.ReferralInForce(payee, placedOn) is null) return CandidateVerdict.NoAgreement;
        return payee.IsActiveOn(placedOn) ? CandidateVerdict.Won : CandidateVerdict.Inactive;
    }

    private static bool IsBuyer(Rulebook rules, Payee payee, Order order) =>
        !rules.Policy.AllowSelfReferral && order.CustomerKey is { } key && payee.CustomerKeys.Contains(key);
}
