using EvenSplit.Core;

namespace EvenSplit.Books.Terms;

/// <summary>What a draft would give on one order, before anything is published.</summary>
/// <param name="Order">The order's id, or what a made-up one is made of.</param>
/// <param name="Earned">What a made-up payee with no history would earn, in minor units of the order's currency, like all amounts here.</param>
/// <param name="Shares">The same part by part, explained.</param>
/// <param name="Warnings">What is wrong on this order.</param>
public sealed record ExampleView(
    string Order, Currency Currency, long Charged, long GoodsNet, long Earned, long House, IReadOnlyList<Trace> Shares, IReadOnlyList<string> Warnings);

/// <summary>Works a draft out on an order for a made-up payee. Nothing is kept.</summary>
internal static class WorkedExample
{
    private static readonly PayeeId Somebody = new("(this payee)");
    private static readonly AgreementId Draft = new("(this agreement)");

    /// <param name="inPlaceOf">The agreement whose next version it is: as published it is left out, or it would count twice. Null for a new one.</param>
    /// <param name="told">How the order is called.</param>
    public static ExampleView Of(OpenedBook book, AgreementVersion version, Basis basis, Currency currency, string name, string? inPlaceOf, Order order, string told)
    {
        var agreement = new Agreement(Draft, basis, currency, [version with { From = DateOnly.MinValue }]);
        if (basis == Basis.Referral) order = order with { ManualPayee = Somebody };
        var rules = WithDraft(book.Rules, agreement, inPlaceOf is null ? null : new AgreementId(inPlaceOf), order);
        var ledger = new OrderLedger(rules, order, null, new NothingSoFar(), explain: true);
        var amounts = ledger.SaleAmounts.Where(a => a.Key.Agreement == Draft).ToArray();
        var naming = book.Naming() with
        {
            Payee = id => id == Somebody ? "this payee" : book.PayeeName(id.Value),
            Agreement = id => id == Draft ? (name.Length > 0 ? name : "This agreement") : book.AgreementName(id.Value),
        };
        return new ExampleView(
            told, order.Currency, ledger.Figures.Charged, ledger.Figures.GoodsNet,
            amounts.Sum(a => ledger.InOrderCurrency(a.Amount) ?? 0), ledger.House,
            new TraceTeller(rules, naming).Tell(ledger, amounts), Warnings(ledger).ToArray());
    }

    /// <summary>An order of one product, at its price in the catalogue.</summary>
    public static Order MadeUp(OpenedBook book, Product product, long unitPrice, long quantity, DateTimeOffset at) => new()
    {
        Id = new OrderId("(made up)"),
        Channel = new ChannelId("(none)"),
        Currency = book.Currency,
        PlacedAt = at,
        PaidAt = at,
        Lines = [new OrderLine { Id = new LineId("1"), Product = product.Id, Quantity = quantity, UnitPrice = unitPrice }],
    };

    private static Rulebook WithDraft(Rulebook rules, Agreement draft, AgreementId? inPlaceOf, Order order)
    {
        var somebody = new Payee
        {
            Id = Somebody,
            Role = draft.Basis switch { Basis.Referral => PayeeRole.Affiliate, Basis.Supply => PayeeRole.Vendor, _ => PayeeRole.Collaborator },
            PayoutCurrency = draft.Currency,
            ActiveFrom = DateOnly.MinValue,
            Memberships = [new Membership(Draft, DateOnly.MinValue, null)],
        };
        var inOrder = order.Lines.Select(l => l.Product).ToHashSet();
        var products = rules.Products.Select(p => draft.Basis == Basis.Supply && inOrder.Contains(p.Id) ? p with { Vendor = Somebody } : p);
        var payees = rules.Payees.Select(p => inPlaceOf is null || p.Memberships.All(m => m.Agreement != inPlaceOf) ? p : p with { Memberships = [.. p.Memberships.Where(m => m.Agreement != inPlaceOf)] });
        return rules.With(products, payees.Append(somebody), rules.Agreements.Append(draft));
    }

    private static IEnumerable<string> Warnings(OrderLedger ledger)
    {
        if (ledger.Exceptions.Any(e => e.Code == ExceptionCode.OverCommitted)) yield return "On this order more would be given away than a line brought in.";
        if (ledger.House < 0) yield return "On this order the house would lose money.";
    }
}
