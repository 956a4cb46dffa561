using EvenSplit.Books.Forms;
using EvenSplit.Core;

namespace EvenSplit.Books.Terms;

/// <summary>Turns a draft into a version, or says at which fields it cannot.</summary>
internal sealed class DraftReader(Rulebook rules)
{
    private readonly FieldReader _fields = new();

    public IReadOnlyList<FieldFault> Faults => _fields.Faults;

    /// <summary>Faults keep it from being published; with them the version returned is only fit for a preview.</summary>
    public AgreementVersion Read(AgreementDraft draft)
    {
        _fields.Required("Name", draft.Name, "Give the agreement a name; payees will read it on their statements.");
        var currency = _fields.Currency("Currency", draft.Currency, "Choose the currency of its flat amounts.");
        if (draft.From is null) _fields.Refuse("From", "Say from which day it holds.");
        var terms = draft.Terms.Select((t, i) => (Draft: t, Field: $"Terms[{i}]")).Where(t => !t.Draft.IsBlank).ToArray();
        if (terms.Length == 0) _fields.Refuse("Terms", "Add at least one term: for what, and how much of it.");
        return new AgreementVersion
        {
            From = draft.From ?? DateOnly.MinValue,
            HoldDays = _fields.Days("HoldDays", draft.HoldDays),
            DiscountBorneBy = draft.DiscountBorneBy,
            Tax = draft.Tax,
            Shipping = draft.Shipping,
            Rebate = draft.Rebate,
            DeductProcessingFee = draft.DeductProcessingFee,
            DeductChannelFee = draft.DeductChannelFee,
            DeductCost = draft.DeductCost,
            AfterReferral = draft.AfterReferral && draft.Basis != Basis.Referral,
            LostFees = draft.LostFees,
            Terms = currency.Code is null ? [] : terms.Select(t => ReadTerm(t.Draft, t.Field, currency)).ToArray(),
        };
    }

    private Term ReadTerm(TermDraft draft, string field, Currency currency)
    {
        var scope = draft.ScopeKind == ScopeKind.All ? Scope.All : new Scope(draft.ScopeKind, draft.ScopeId.Trim());
        if (!Exists(scope)) _fields.Refuse(field + ".ScopeId", $"There is no {draft.ScopeKind.ToString().ToLowerInvariant()} '{draft.ScopeId}' in the catalogue.");
        var rate = new ShareRate(
            _fields.Percent(field + ".Percent", draft.Percent),
            _fields.Amount(field + ".PerUnit", draft.PerUnit, currency),
            _fields.Amount(field + ".PerOrder", draft.PerOrder, currency),
            draft.Of);
        return new Term(scope, [new TermCase(CaseConditions.None, rate)]);
    }

    private bool Exists(Scope scope) => scope.Kind switch
    {
        ScopeKind.All => true,
        ScopeKind.Product => rules.FindProduct(new ProductId(scope.Id!)) is not null,
        ScopeKind.Variant => rules.Products.Any(p => p.Variants.Contains(new VariantId(scope.Id!))),
        _ => rules.Products.Any(p => p.Collections.Contains(new CollectionId(scope.Id!))),
    };
}
