namespace EvenSplit.Core;

/// <summary>Settles who shares in an order and by which term and case (contract, sections 4 and 6).</summary>
internal sealed class Pinning(
    Rulebook rules, Order order, OrderFigures figures, DateOnly placedOn, DateOnly paidOn, IProgressBefore progress)
{
    private readonly CaseChoice _cases = new(
        order,
        figures.GoodsNet,
        (minor, currency) => rules.Rates.Convert(minor, order.Currency, currency, paidOn),
        progress);

    public IReadOnlyList<PinnedShare> All(PayeeId? attributed)
    {
        var shares = new List<PinnedShare>();
        if (attributed is { } id && rules.ReferralInForce(rules.Payee(id), placedOn) is { } referral)
        {
            var payee = rules.Payee(id);
            Add(shares, payee, referral.Agreement, referral.Version, Enumerable.Range(0, order.Lines.Count), RecruiterOf(payee, referral.Version));
        }
        foreach (var (sharer, lines) in SharersWithLines())
        {
            if (!sharer.Payee.IsOn(sharer.Agreement.Id, placedOn)) continue;
            if (sharer.Agreement.VersionOn(placedOn) is { } version) Add(shares, sharer.Payee, sharer.Agreement, version, lines, null);
        }
        return shares;
    }

    private Payee? RecruiterOf(Payee payee, AgreementVersion version) =>
        version.RecruiterPercent is not null && payee.RecruitedBy is { } id && rules.Payee(id) is var recruiter && recruiter.IsActiveOn(placedOn)
            ? recruiter
            : null;

    private List<(PayeeOnAgreement Sharer, List<int> Lines)> SharersWithLines()
    {
        var found = new List<(PayeeOnAgreement Sharer, List<int> Lines)>();
        for (var i = 0; i < order.Lines.Count; i++)
        {
            foreach (var sharer in rules.Sharers(order.Lines[i].Product))
            {
                // A payee on an agreement is one object in a rulebook, whatever the product.
                var at = found.Count - 1;
                while (at >= 0 && !ReferenceEquals(found[at].Sharer, sharer)) at--;
                if (at < 0) found.Add((sharer, [i]));
                else found[at].Lines.Add(i);
            }
        }
        return found;
    }

    private void Add(List<PinnedShare> shares, Payee payee, Agreement agreement, AgreementVersion version, IEnumerable<int> lines, Payee? recruiter)
    {
        var pinned = new List<PinnedLine>();
        var waits = false;
        foreach (var i in lines)
        {
            var line = order.Lines[i];
            if (TermChoice.For(payee, agreement, version, figures.Lines[i].Product, line.Variant, placedOn) is not { } term) continue;
            var outcome = _cases.For(term.Term, payee.Id, agreement, line);
            waits |= outcome.Waits;
            pinned.Add(new PinnedLine { LineIndex = i, Term = term, Case = outcome.Case, CaseNumber = outcome.Number });
        }
        if (pinned.Count == 0) return;
        waits |= !SpreadFlatAmounts(pinned, agreement.Currency);
        shares.Add(new PinnedShare
        {
            Payee = payee,
            Agreement = agreement,
            Version = version,
            Recruiter = recruiter,
            Lines = pinned,
            Waits = waits,
        });
    }

    /// <summary>Allocates each case's flat amount per order to the lines it gave a rate for; false where a rate is missing for a flat amount.</summary>
    private bool SpreadFlatAmounts(List<PinnedLine> lines, Currency currency)
    {
        var convertible = true;
        if (!lines.Exists(l => l.Rate is { PerUnit: not null } or { PerOrder: not null })) return true;
        foreach (var sameCase in lines.Where(l => l.Rate is not null).GroupBy(l => l.Case!, ReferenceEqualityComparer.Instance))
        {
            var given = sameCase.ToArray();
            var rate = given[0].Rate!;
            if (rate.PerUnit is { } perUnit)
            {
                convertible &= given.All(l => rules.Rates.Convert(perUnit * order.Lines[l.LineIndex].Quantity, currency, order.Currency, paidOn) is not null);
            }
            if (rate.PerOrder is not { } perOrder) continue;
            var converted = rules.Rates.Convert(perOrder, currency, order.Currency, paidOn);
            convertible &= converted is not null;
            var weights = Array.ConvertAll(given, l => figures.Lines[l.LineIndex].GoodsNet);
            var parts = Allocation.Allocate(perOrder, weights);
            var convertedParts = Allocation.Allocate(converted ?? 0, weights);
            for (var i = 0; i < given.Length; i++) (given[i].PerOrderPart, given[i].PerOrderPartConverted) = (parts[i], convertedParts[i]);
        }
        return convertible;
    }
}
