namespace EvenSplit.Core;

/// <summary>Settles who shares in an order and by which term and case (contract, sections 4 and 6).</summary>
internal readonly struct Pinning(
    Rulebook rules, Order order, OrderFigures figures, DateOnly placedOn, DateOnly paidOn, IProgressBefore progress, bool explain)
{
    private readonly CaseChoice _cases = new(order, figures.GoodsNet, rules.Rates, paidOn, progress);

    public PinnedShare[] All(PayeeId? attributed)
    {
        var shares = new List<PinnedShare>();
        if (attributed is { } id && rules.Payee(id) is var payee && rules.ReferralInForce(payee, placedOn) is { } referral)
        {
            Add(shares, payee, referral.Agreement, referral.Version, RecruiterOf(payee, referral.Version));
        }
        List<PayeeOnAgreement>? seen = null;
        for (var i = 0; i < figures.Lines.Count; i++)
        {
            foreach (var sharer in rules.SharersOf(figures.Lines[i].Product.Id))
            {
                // A payee on an agreement is one object in a rulebook, whatever the product.
                if (seen is not null && seen.Contains(sharer)) continue;
                (seen ??= []).Add(sharer);
                if (!sharer.Payee.IsOn(sharer.Agreement.Id, placedOn)) continue;
                if (sharer.Agreement.VersionOn(placedOn) is { } version) Add(shares, sharer.Payee, sharer.Agreement, version, null);
            }
        }
        return shares.Count == 0 ? [] : [.. shares];
    }

    private Payee? RecruiterOf(Payee payee, AgreementVersion version) =>
        version.RecruiterPercent is not null && payee.RecruitedBy is { } id && rules.Payee(id) is var recruiter && recruiter.IsActiveOn(placedOn)
            ? recruiter
            : null;

    private void Add(List<PinnedShare> shares, Payee payee, Agreement agreement, AgreementVersion version, Payee? recruiter)
    {
        List<PinnedLine>? pinned = null;
        var waits = false;
        var flat = false;
        for (var i = 0; i < figures.Lines.Count; i++)
        {
            var (line, product) = (figures.Lines[i].Line, figures.Lines[i].Product);
            if (agreement.Basis == Basis.Supply && product.Vendor != payee.Id) continue;
            if (TermChoice.For(payee, agreement, version, product, line.Variant, placedOn) is not { } term) continue;
            var passedOver = explain ? new List<PassedOverCase>() : null;
            var outcome = _cases.For(term.Term, payee.Id, agreement, line, passedOver);
            waits |= outcome.Waits;
            flat |= outcome.Case is { Rate.HasFlatAmount: true };
            (pinned ??= []).Add(new PinnedLine { LineIndex = i, Term = term, Case = outcome.Case, CaseNumber = outcome.Number, PassedOver = passedOver ?? [] });
        }
        if (pinned is null) return;
        if (flat) waits |= !SpreadFlatAmounts(pinned, agreement.Currency);
        shares.Add(new PinnedShare
        {
            Payee = payee,
            Agreement = agreement,
            Version = version,
            Recruiter = recruiter,
            Lines = [.. pinned],
            Waits = waits,
        });
    }

    /// <summary>Allocates each case's flat amount per order to the lines it gave a rate for; false where a rate is missing for a flat amount.</summary>
    private bool SpreadFlatAmounts(List<PinnedLine> lines, Currency currency)
    {
        var convertible = true;
        foreach (var sameCase in lines.Where(l => l.Rate is not null).GroupBy(l => l.Case!, ReferenceEqualityComparer.Instance))
        {
            var given = sameCase.ToArray();
            var rate = given[0].Rate!;
            if (rate.PerUnit is { } perUnit)
            {
                foreach (var line in given) convertible &= InOrderCurrency(perUnit * order.Lines[line.LineIndex].Quantity, currency) is not null;
            }
            if (rate.PerOrder is not { } perOrder) continue;
            var converted = InOrderCurrency(perOrder, currency);
            convertible &= converted is not null;
            var weights = new long[given.Length];
            for (var i = 0; i < weights.Length; i++) weights[i] = figures.Lines[given[i].LineIndex].GoodsNet;
            var parts = Allocation.Allocate(perOrder, weights);
            var convertedParts = Allocation.Allocate(converted ?? 0, weights);
            for (var i = 0; i < given.Length; i++) (given[i].PerOrderPart, given[i].PerOrderPartConverted) = (parts[i], convertedParts[i]);
        }
        return convertible;
    }

    private long? InOrderCurrency(long minor, Currency currency) => rules.Rates.Convert(minor, currency, order.Currency, paidOn);
}
