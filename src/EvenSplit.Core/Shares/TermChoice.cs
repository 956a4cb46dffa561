namespace EvenSplit.Core;

/// <summary>A term found for a line: the agreement's own, or personal. <see cref="Number"/> counts from 1 in its list.</summary>
public sealed record ChosenTerm(Term Term, bool IsPersonal, int Number);

/// <summary>Why a term that covers the line did not govern it, or did not cover it at all.</summary>
public enum PassedOverTerm { OtherScope, NotInForce, PersonalComesFirst, NarrowerScopeWins, EarlierWins }

/// <summary>Finds the term that governs a line (contract, section 4).</summary>
public static class TermChoice
{
    public static ChosenTerm? For(Payee payee, Agreement agreement, AgreementVersion version, Product product, VariantId? variant, DateOnly placedOn)
    {
        ChosenTerm? best = null;
        for (var i = 0; i < payee.PersonalTerms.Count; i++)
        {
            var personal = payee.PersonalTerms[i];
            if (personal.Agreement != agreement.Id || !personal.InForceOn(placedOn) || !personal.Term.Scope.Covers(product, variant)) continue;
            if (best is null || personal.Term.Scope.Kind > best.Term.Scope.Kind) best = new ChosenTerm(personal.Term, true, i + 1);
        }
        if (best is not null) return best;
        for (var i = 0; i < version.Terms.Count; i++)
        {
            var term = version.Terms[i];
            if ((best is null || term.Scope.Kind > best.Term.Scope.Kind) && term.Scope.Covers(product, variant))
            {
                best = new ChosenTerm(term, false, i + 1);
            }
        }
        return best;
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
