namespace EvenSplit.Core;

/// <summary>How much of its base a product could give away at most, all agreements together, and by whom the largest part.</summary>
/// <param name="Millionths">Of the base: 1,000,000 is all of it. Flat amounts and shares that the house sets are not in it.</param>
public sealed record GivenAway(Product Product, long Millionths, IReadOnlyList<(AgreementId Agreement, long Millionths)> Parts);

/// <summary>Adds up the highest percentages that could fall together on one line of a product.</summary>
public static class MostGiven
{
    /// <param name="on">The date of placing.</param>
    /// <param name="draft">An agreement being written; it takes the place of the one with its id.</param>
    /// <param name="draftPayees">How many payees share under the draft at once: 1 where nobody is on it yet.</param>
    public static GivenAway Of(Rulebook rules, Product product, DateOnly on, Agreement draft, int draftPayees)
    {
        var parts = new Dictionary<AgreementId, long>();
        foreach (var sharer in rules.Sharers(product.Id).Where(s => s.Agreement.Id != draft.Id && s.Payee.IsOn(s.Agreement.Id, on)))
        {
            if (sharer.Agreement.VersionOn(on) is not { } version) continue;
            Add(parts, sharer.Agreement.Id, Highest(TermChoice.For(sharer.Payee, sharer.Agreement, version, product, null, on)?.Term));
        }
        var referral = rules.Agreements.Where(a => a.Basis == Basis.Referral && a.Id != draft.Id)
            .Select(a => (a.Id, Most: Highest(Narrowest(a.VersionOn(on), product)))).DefaultIfEmpty().MaxBy(a => a.Most);
        var own = Highest(Narrowest(draft.Versions[^1], product));
        if (draft.Basis != Basis.Referral)
        {
            if (draft.Basis == Basis.Contribution || product.Vendor is not null) Add(parts, draft.Id, own * Math.Max(1, draft.Basis == Basis.Supply ? 1 : draftPayees));
            Add(parts, referral.Id, referral.Most);
        }
        else
        {
            Add(parts, own >= referral.Most ? draft.Id : referral.Id, Math.Max(own, referral.Most));
        }
        return new GivenAway(product, parts.Values.Sum(), [.. parts.Where(p => p.Value > 0).OrderByDescending(p => p.Value).Select(p => (p.Key, p.Value))]);
    }

    private static void Add(Dictionary<AgreementId, long> parts, AgreementId agreement, long millionths)
    {
        if (millionths > 0) parts[agreement] = parts.GetValueOrDefault(agreement) + millionths;
    }

    private static Term? Narrowest(AgreementVersion? version, Product product)
    {
        Term? best = null;
        foreach (var term in version?.Terms ?? [])
        {
            if ((best is null || term.Scope.Kind > best.Scope.Kind) && term.Scope.MayCover(product)) best = term;
        }
        return best;
    }

    private static long Highest(Term? term) =>
        term?.Cases.Where(c => c.Rate.Of == RateOf.Payee).Max(c => c.Rate.Percent?.Millionths) ?? 0;
}
