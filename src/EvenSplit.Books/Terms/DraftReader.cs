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
            WindowDays = draft.WindowDays is null ? null : _fields.Days("WindowDays", draft.WindowDays),
            HoldDays = _fields.Days("HoldDays", draft.HoldDays),
            SignOff = draft.SignOff,
            DiscountBorneBy = draft.DiscountBorneBy,
            Tax = draft.Tax,
            Shipping = draft.Shipping,
            Rebate = draft.Rebate,
            DeductProcessingFee = draft.DeductProcessingFee,
            DeductChannelFee = draft.DeductChannelFee,
            DeductCost = draft.DeductCost,
            AfterReferral = draft.AfterReferral && draft.Basis != Basis.Referral,
            LostFees = draft.LostFees,
            RecruiterPercent = draft.Basis == Basis.Referral ? _fields.Percent("RecruiterPercent", draft.RecruiterPercent) : null,
            RecruiterOf = draft.RecruiterOf,
            Terms = currency.Code is null ? [] : terms.Select(t => Read(t.Draft, t.Field, currency)).ToArray(),
        };
    }

    /// <param name="field">Where in the form the term stands, before the names of its own fields.</param>
    public Term Read(TermDraft draft, string field, Currency currency)
    {
        var cases = draft.Cases.Select((c, i) => (Draft: c, Field: $"{field}.Cases[{i}]")).Where(c => !c.Draft.IsBlank).ToArray();
        if (cases.Length == 0) _fields.Refuse(field + ".Cases[0].Percent", "Say how much, or choose that nobody earns on it.");
        return new Term(ReadScope(draft, field + ".ScopeId"), cases.Select(c => Read(c.Draft, c.Field, currency)).ToArray());
    }

    private Scope ReadScope(TermDraft draft, string field)
    {
        var id = draft.ScopeId.Trim();
        if (draft.ScopeKind == ScopeKind.All)
        {
            if (id.Length > 0) _fields.Refuse(field, $"'{id}' is more than everything: choose whether it is a collection, a product or a variant, or empty the cell.");
            return Scope.All;
        }
        var kind = draft.ScopeKind.ToString().ToLowerInvariant();
        if (id.Length == 0) _fields.Refuse(field, $"Say which {kind}.");
        var exists = draft.ScopeKind switch
        {
            ScopeKind.Product => rules.FindProduct(new ProductId(id)) is not null,
            ScopeKind.Variant => rules.Products.Any(p => p.Variants.Contains(new VariantId(id))),
            // A collection is there as soon as somebody names it; products may come into it later.
            _ => true,
        };
        if (!exists && id.Length > 0) _fields.Refuse(field, $"There is no {kind} '{id}' in the catalogue.");
        return new Scope(draft.ScopeKind, id);
    }

    private TermCase Read(CaseDraft draft, string field, Currency currency)
    {
        if (draft.PaymentFrom < 0) _fields.Refuse(field + ".PaymentFrom", "Payments count from 0, the trial.");
        if (draft.PaymentTo < (draft.PaymentFrom ?? 0)) _fields.Refuse(field + ".PaymentTo", "The last payment is before the first, so that none would count.");
        if (draft.Orders < 0) _fields.Refuse(field + ".Orders", "Give a number of orders, 0 or more.");
        var when = new CaseConditions
        {
            OrderValueAtLeast = _fields.Amount(field + ".OrderValue", draft.OrderValue, currency),
            PaymentFrom = draft.PaymentFrom,
            PaymentTo = draft.PaymentTo,
            Customer = draft.Customer,
            SalesAtLeast = _fields.Amount(field + ".Sales", draft.Sales, currency),
            OrdersAtLeast = draft.Orders,
            EarnedAtLeast = _fields.Amount(field + ".Earned", draft.Earned, currency),
            Window = draft.Window,
        };
        if (draft.GoesTo == RateGoesTo.Nobody)
        {
            if (draft.HasAmount) _fields.Refuse(field + ".GoesTo", "Nobody is to earn here, yet there is an amount: empty it, or say who gets it.");
            return new TermCase(when, new ShareRate(null));
        }
        if (!draft.HasAmount) _fields.Refuse(field + ".Percent", "Say how much, or choose that nobody earns on it.");
        return new TermCase(when, new ShareRate(
            _fields.Percent(field + ".Percent", draft.Percent),
            _fields.Amount(field + ".PerUnit", draft.PerUnit, currency),
            _fields.Amount(field + ".PerOrder", draft.PerOrder, currency),
            draft.GoesTo == RateGoesTo.House ? RateOf.House : RateOf.Payee));
    }
}
