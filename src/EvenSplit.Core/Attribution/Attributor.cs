namespace EvenSplit.Core;

/// <summary>Decides who brought an order (contract, section 3).</summary>
public static class Attributor
{
    private readonly record struct Candidate(Payee? Payee, AttributionVia Via, string? Evidence, DateTimeOffset? ClickedAt, CandidateVerdict? RuledOut);

    /// <param name="origin">
    /// The decision on the order this one renews; null where it renews none, or its origin is a test, unpaid or unknown.
    /// </param>
    /// <param name="exceptions">Receives <c>payee-inactive</c> and <c>self-referral</c>.</param>
    public static AttributionDecision Decide(
        Rulebook rules, Order order, AttributionDecision? origin, ICollection<CalculationException> exceptions)
    {
        if (origin is null && order.ManualPayee is null && order.Codes.Count == 0 && order.Clicks.Count == 0) return AttributionDecision.Nobody;
        var placedOn = rules.Policy.Time.DateOf(order.PlacedAt);
        return origin is null
            ? FirstToQualify(rules, order, placedOn, exceptions)
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
        exceptions.Add(new CalculationException(ExceptionCode.PayeeInactive, order.Id, null, id));
        return new AttributionDecision(null, null, [candidate]);
    }

    private static AttributionDecision FirstToQualify(
        Rulebook rules, Order order, DateOnly placedOn, ICollection<CalculationException> exceptions)
    {
        var candidates = Candidates(rules, order, placedOn);
        var looked = new AttributionCandidate[candidates.Count];
        PayeeId? winner = null;
        AttributionVia? via = null;
        for (var i = 0; i < looked.Length; i++)
        {
            var (payee, by, evidence, clickedAt, ruledOut) = candidates[i];
            var verdict = ruledOut
                ?? (winner is not null ? CandidateVerdict.NotNeeded : Qualify(rules, payee!, placedOn));
            if (verdict == CandidateVerdict.Won && IsBuyer(rules, payee!, order)) verdict = CandidateVerdict.SelfReferral;
            if (verdict == CandidateVerdict.Inactive) exceptions.Add(new CalculationException(ExceptionCode.PayeeInactive, order.Id, null, payee!.Id));
            if (verdict == CandidateVerdict.SelfReferral) exceptions.Add(new CalculationException(ExceptionCode.SelfReferral, order.Id, null, payee!.Id));
            if (verdict == CandidateVerdict.Won) (winner, via) = (payee!.Id, by);
            looked[i] = new AttributionCandidate(payee?.Id, by, evidence, clickedAt, verdict);
        }
        return new AttributionDecision(winner, via, looked);
    }

    /// <summary>In the order in which they are asked: the assignment by hand, codes from the last, clicks as the book's model says.</summary>
    private static List<Candidate> Candidates(Rulebook rules, Order order, DateOnly placedOn)
    {
        var candidates = new List<Candidate>(1 + order.Codes.Count + order.Clicks.Count);
        if (order.ManualPayee is { } manual) candidates.Add(new Candidate(rules.Payee(manual), AttributionVia.Manual, null, null, null));
        for (var i = order.Codes.Count - 1; i >= 0; i--)
        {
            var payee = rules.FindPayeeByCode(order.Codes[i]);
            candidates.Add(new Candidate(payee, AttributionVia.Code, order.Codes[i], null, payee is null ? CandidateVerdict.UnknownCode : null));
        }
        foreach (var click in ByModel(order.Clicks, rules.Policy.ClickModel))
        {
            var payee = rules.Payee(click.Payee);
            candidates.Add(new Candidate(payee, AttributionVia.Click, null, click.At, OutOfTime(rules, order, click, payee, placedOn)));
        }
        return candidates;
    }

    private static IEnumerable<Click> ByModel(IReadOnlyList<Click> clicks, ClickModel model)
    {
        if (clicks.Count < 2) return clicks;
        // A stable sort: at the same instant the later in the list counts as later.
        var byTime = clicks.OrderBy(c => c.At.UtcTicks);
        return model == ClickModel.Last ? byTime.Reverse() : byTime;
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
