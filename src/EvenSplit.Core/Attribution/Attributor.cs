using System.Globalization;

namespace EvenSplit.Core;

/// <summary>Decides who brought an order (contract, section 3).</summary>
public static class Attributor
{
    /// <param name="origin">
    /// The decision on the order this one renews; null where it renews none, or its origin is a test, unpaid or unknown.
    /// </param>
    /// <param name="exceptions">Receives <c>payee-inactive</c> and <c>self-referral</c>.</param>
    public static AttributionDecision Decide(
        Rulebook rules, Order order, AttributionDecision? origin, ICollection<CalculationException> exceptions)
    {
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
        var candidate = new AttributionCandidate(id, AttributionVia.Renewal, order.Origin?.Value ?? "", verdict);
        if (verdict == CandidateVerdict.Won) return new AttributionDecision(id, AttributionVia.Renewal, [candidate]);
        exceptions.Add(new CalculationException(ExceptionCode.PayeeInactive, order.Id, null, id));
        return new AttributionDecision(null, null, [candidate]);
    }

    private static AttributionDecision FirstToQualify(
        Rulebook rules, Order order, DateOnly placedOn, ICollection<CalculationException> exceptions)
    {
        if (order.ManualPayee is null && order.Codes.Count == 0 && order.Clicks.Count == 0) return AttributionDecision.Nobody;
        var candidates = new List<AttributionCandidate>();
        PayeeId? winner = null;
        AttributionVia? via = null;
        foreach (var (payee, by, evidence, ruledOut) in Candidates(rules, order, placedOn))
        {
            var verdict = ruledOut
                ?? (winner is not null ? CandidateVerdict.NotNeeded : Qualify(rules, payee!, placedOn));
            if (verdict == CandidateVerdict.Won && IsBuyer(rules, payee!, order)) verdict = CandidateVerdict.SelfReferral;
            if (verdict == CandidateVerdict.Inactive) exceptions.Add(new CalculationException(ExceptionCode.PayeeInactive, order.Id, null, payee!.Id));
            if (verdict == CandidateVerdict.SelfReferral) exceptions.Add(new CalculationException(ExceptionCode.SelfReferral, order.Id, null, payee!.Id));
            if (verdict == CandidateVerdict.Won) (winner, via) = (payee!.Id, by);
            candidates.Add(new AttributionCandidate(payee?.Id, by, evidence, verdict));
        }
        return new AttributionDecision(winner, via, candidates);
    }

    private static IEnumerable<(Payee? Payee, AttributionVia Via, string Evidence, CandidateVerdict? RuledOut)> Candidates(
        Rulebook rules, Order order, DateOnly placedOn)
    {
        if (order.ManualPayee is { } manual) yield return (rules.Payee(manual), AttributionVia.Manual, "", null);
        for (var i = order.Codes.Count - 1; i >= 0; i--)
        {
            var payee = rules.FindPayeeByCode(order.Codes[i]);
            yield return (payee, AttributionVia.Code, order.Codes[i], payee is null ? CandidateVerdict.UnknownCode : null);
        }
        var clicks = order.Clicks.Select((click, index) => (click, index)).OrderBy(c => c.click.At).ThenBy(c => c.index).Select(c => c.click);
        if (rules.Policy.ClickModel == ClickModel.Last) clicks = clicks.Reverse();
        foreach (var click in clicks)
        {
            var payee = rules.Payee(click.Payee);
            yield return (payee, AttributionVia.Click, click.At.UtcDateTime.ToString("O", CultureInfo.InvariantCulture), OutOfTime(rules, order, click, payee, placedOn));
        }
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
