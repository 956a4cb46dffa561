namespace EvenSplit.Core;

/// <summary>Whether rules say the same, whatever objects say it.</summary>
internal static class SameRules
{
    /// <summary>Two versions, the day each begins apart.</summary>
    public static bool Are(AgreementVersion? a, AgreementVersion? b)
    {
        if (ReferenceEquals(a, b)) return true;
        if (a is null || b is null) return false;
        // All that is not a list is compared as the record compares itself.
        return Bare(a) == Bare(b) && a.Terms.Count == b.Terms.Count && a.Terms.Zip(b.Terms).All(t => Are(t.First, t.Second));

        static AgreementVersion Bare(AgreementVersion version) => version with { From = default, Terms = [] };
    }

    public static bool Are(Term a, Term b) => a.Scope == b.Scope && a.Cases.SequenceEqual(b.Cases);

    /// <summary>Whether two states of a payee have the same under an agreement on a day: whether they are on it, for which products, by which terms of their own.</summary>
    public static bool Are(Payee a, Payee b, AgreementId agreement, DateOnly on)
    {
        var (one, other) = (a.MembershipOn(agreement, on), b.MembershipOn(agreement, on));
        if (one is null != other is null) return false;
        if (one is null) return true;
        return (one.Products is null) == (other!.Products is null) && (one.Products ?? []).ToHashSet().SetEquals(other.Products ?? [])
            && Terms(a).SequenceEqual(Terms(b), Comparer);

        IEnumerable<Term> Terms(Payee payee) => payee.PersonalTerms.Where(t => t.Agreement == agreement && t.InForceOn(on)).Select(t => t.Term);
    }

    private static EqualityComparer<Term> Comparer { get; } = EqualityComparer<Term>.Create((a, b) => Are(a!, b!), t => t.Scope.GetHashCode());
}
