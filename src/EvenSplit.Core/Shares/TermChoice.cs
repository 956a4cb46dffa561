namespace EvenSplit.Core;

/// <summary>A term found for a line: the agreement's own, or personal. <see cref="Number"/> counts from 1 in its list.</summary>
public readonly record struct ChosenTerm(Term Term, bool IsPersonal, int Number);

/// <summary>Why a term that covers the line did not govern it, or did not cover it at all.</summary>
public enum PassedOverTerm { OtherScope, NotInForce, PersonalComesFirst, NarrowerScopeWins, EarlierWins }

/// <summary>Finds the term that governs a line (contract, section 4).</summary>
public static class TermChoice
{
    public static ChosenTerm? For(Payee payee, Agreement agreement, AgreementVersion version, Product product, VariantId? variant, DateOnly placedOn)
    {
        // Outside the products somebody is approved for it is as if no term covered the line.
        if (payee.MembershipOn(agreement.Id, placedOn) is { Products: not null } membership && !membership.IsFor(product.Id)) return null;
        var best = -1;
        for (var i = 0; i < payee.PersonalTerms.Count; i++)
        {
            var personal = payee.PersonalTerms[i];
            if (personal.Agreement != agreement.Id || !personal.InForceOn(placedOn) || !personal.Term.Scope.Covers(product, variant)) continue;
            if (best < 0 || personal.Term.Scope.Kind > payee.PersonalTerms[best].Term.Scope.Kind) best = i;
        }
        if (best >= 0) return new ChosenTerm(payee.PersonalTerms[best].Term, true, best + 1);
        for (var i = 0; i < version.Terms.Count; i++)
        {
            var scope = version.Terms[i].Scope;
            if ((best < 0 || scope.Kind > version.Terms[best].Scope.Kind) && scope.Covers(product, variant)) best = i;
        }
        return best < 0 ? null : new ChosenTerm(version.Terms[best], false, best + 1);
    }

    /// <summary>Every other term of the payee's agreement with the reason it did not govern the line: for the trace.</summary>
    public static IEnumerable<(ChosenTerm Term, PassedOverTerm Why)> PassedOver(
        ChosenTerm chosen, Payee payee, Agreement agreement, AgreementVersion version, Product product, VariantId? variant, DateOnly placedOn)
    {
        for (var i = 0; i < payee.PersonalTerms.Count; i++)
        {
            var personal = payee.PersonalTerms[i];
            if (personal.Agreement != agreement.Id || ReferenceEquals(personal.Term, chosen.Term)) continue;
            yield return (new ChosenTerm(personal.Term, true, i + 1),
                personal.InForceOn(placedOn) ? Why(chosen, personal.Term, true, product, variant) : PassedOverTerm.NotInForce);
        }
        for (var i = 0; i < version.Terms.Count; i++)
        {
            if (ReferenceEquals(version.Terms[i], chosen.Term)) continue;
            yield return (new ChosenTerm(version.Terms[i], false, i + 1), Why(chosen, version.Terms[i], false, product, variant));
        }
    }

    private static PassedOverTerm Why(ChosenTerm chosen, Term term, bool isPersonal, Product product, VariantId? variant)
    {
        if (!term.Scope.Covers(product, variant)) return PassedOverTerm.OtherScope;
        if (chosen.IsPersonal && !isPersonal) return PassedOverTerm.PersonalComesFirst;
        return chosen.Term.Scope.Kind > term.Scope.Kind ? PassedOverTerm.NarrowerScopeWins : PassedOverTerm.EarlierWins;
    }
}
