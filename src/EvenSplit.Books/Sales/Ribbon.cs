using EvenSplit.Core;

namespace EvenSplit.Books.Sales;

/// <summary>Where money goes, always in the same order and colours.</summary>
public enum Party { Tax, Shipping, Fees, Affiliates, Collaborators, Vendors, House }

/// <summary>Money flowing from what was charged to where it went. The parts sum to <see cref="Whole"/>, by identity.</summary>
public sealed record Ribbon(Currency Currency, long Charged, long Rebate, IReadOnlyList<(Party Party, long Amount)> Parts)
{
    /// <summary>What came in: charged, and what a channel credited.</summary>
    public long Whole => Charged + Rebate;

    public long ShippingKept => Parts.Single(p => p.Party == Party.Shipping).Amount;

    /// <summary>All that is left for the house: of goods, and the shipping it keeps.</summary>
    public long House => ShippingKept + Parts.Single(p => p.Party == Party.House).Amount;

    /// <param name="shippingKept">Shipping, net, that the house was paid and passed on to no payee.</param>
    public static Ribbon Of(
        Currency currency, long charged, long rebate, long tax, long fees, long affiliates, long collaborators, long vendors, long house, long shippingKept) =>
        new(currency, charged, rebate,
        [
            (Party.Tax, tax),
            (Party.Shipping, shippingKept),
            (Party.Fees, fees),
            (Party.Affiliates, affiliates),
            (Party.Collaborators, collaborators),
            (Party.Vendors, vendors),
            (Party.House, house - shippingKept),
        ]);
}
