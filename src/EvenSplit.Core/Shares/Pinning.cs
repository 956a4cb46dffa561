namespace EvenSplit.Core;

/// <summary>Settles who shares in an order and by which term and case (contract, sections 4 and 6).</summary>
internal readonly struct Pinning(
    Rulebook rules, Order order, OrderFigures figures, DateOnly placedOn, DateOnly paidOn, IProgressBefore progress, bool explain)
{
    // A thread settles one order after another and gathers here whom it has met, the shares, and the lines of each.
    [ThreadStatic]
    private static (List<PayeeOnAgreement> Seen, List<PinnedShare> Shares, List<PinnedLine> Lines)? t_lists;

    private readonly CaseChoice _cases = new(order, figures.GoodsNet, rules.Rates, paidOn, progress);

    public PinnedShare[] All(PayeeId? attributed)
    {
        var (seen, shares, lines) = t_lists ??= ([], [], []);
        seen.Clear();
        shares.Clear();
        if (attributed is { } id && rules.Payee(id) is var payee && rules.ReferralInForce(payee, placedOn) is { } referral)
        {
            Add(shares, lines, payee, referral.Agreement, referral.Version, RecruiterOf(payee, referral.Version));
        }
        for (var i = 0; i < figures.LineSpan.Length; i++)
        {
            foreach (var sharer in figures.LineSpan[i].Sold.Sharers)
            {
                // A payee on an agreement is one object in a rulebook, whatever the product.
                if (seen.Contains(sharer)) continue;
                seen.Add(sharer);
                if (!sharer.Payee.IsOn(sharer.Agreement.Id, placedOn)) continue;
                if (sharer.Agreement.VersionOn(placedOn) is { } version) Add(shares, lines, sharer.Payee, sharer.Agreement, version, null);
            }
        }
        return [.. shares];
    }

    /// <summary>Whether every line that was settled by progress would be settled the same now.</summary>
    public bool HoldsFor(IReadOnlyList<PinnedShare> shares)
    {
        for (var i = 0; i < shares.Count; i++)
        {
            foreach (var line in shares[i].Lines)
            {
                if (!line.Term.Term.AsksProgress) continue;
                var outcome = _cases.For(line.Term.Term, shares[i].Payee.Id, shares[i].Agreement, order.LineSpan[line.LineIndex], null);
                if (!ReferenceEquals(outcome.Case, line.Case) || outcome.Waits != line.Waits) return false;
            }
        }
        return true;
    }

    private Payee? RecruiterOf(Payee payee, AgreementVersion version) =>
        version.RecruiterPercent is not null && payee.RecruitedBy is { } id && rules.Payee(id) is var recruiter && recruiter.IsActiveOn(placedOn)
            ? recruiter
            : null;

    private void Add(List<PinnedShare> shares, List<PinnedLine> pinned, Payee payee, Agreement agreement, AgreementVersion version, Payee? recruiter)
    {
        pinned.Clear();
        var waits = false;
        var flat = false;
        for (var i = 0; i < figures.LineSpan.Length; i++)
        {
            var (line, product) = (figures.LineSpan[i].Line, figures.LineSpan[i].Product);
            if (agreement.Basis == Basis.Supply && product.Vendor != payee.Id) continue;
            if (TermChoice.For(payee, agreement, version, product, line.Variant, placedOn) is not { } term) continue;
            var passedOver = explain ? new List<PassedOverCase>() : null;
            var outcome = _cases.For(term.Term, payee.Id, agreement, line, passedOver);
            waits |= outcome.Waits;
            flat |= outcome.Case is { Rate.HasFlatAmount: true };
            pinned.Add(new PinnedLine { LineIndex = i, Term = term, Case = outcome.Case, Waits = outcome.Waits, CaseNumber = outcome.Number, PassedOver = passedOver ?? (IReadOnlyList<PassedOverCase>)[] });
        }
        if (pinned.Count == 0) return;
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
        for (var first = 0; first < lines.Count; first++)
        {
            if (lines[first].Rate is not { HasFlatAmount: true } rate) continue;
            var given = GivenBy(lines[first].Case!, lines);
            if (given[0] != lines[first]) continue;
            if (rate.PerUnit is { } perUnit)
            {
                foreach (var line in given) convertible &= InOrderCurrency(perUnit * order.LineSpan[line.LineIndex].Quantity, currency) is not null;
            }
            if (rate.PerOrder is not { } perOrder) continue;
            var converted = InOrderCurrency(perOrder, currency);
            convertible &= converted is not null;
            var weights = new long[given.Count];
            for (var i = 0; i < weights.Length; i++) weights[i] = figures.LineSpan[given[i].LineIndex].GoodsNet;
            var parts = Allocation.Allocate(perOrder, weights);
            var convertedParts = Allocation.Allocate(converted ?? 0, weights);
            for (var i = 0; i < given.Count; i++) (given[i].PerOrderPart, given[i].PerOrderPartConverted) = (parts[i], convertedParts[i]);
        }
        return convertible;
    }

    private static List<PinnedLine> GivenBy(TermCase found, List<PinnedLine> lines) => lines.FindAll(l => ReferenceEquals(l.Case, found));

    private long? InOrderCurrency(long minor, Currency currency) => rules.Rates.Convert(minor, currency, order.Currency, paidOn);
}
