namespace EvenSplit.Core;

/// <summary>What a friend gets off products of one collection, or with an empty one of all else: a part of the price, or an amount a unit.</summary>
/// <param name="PerUnit">Minor units of the book's currency; 0 where it is a percentage.</param>
public sealed record FriendDiscount(string Collection, Rate Percent, long PerUnit);

/// <summary>What a customer gets who brought a friend: a part of what the friend bought and an amount, in the book's currency.</summary>
public sealed record ReferrerCredit(Rate Percent, long Fixed);

/// <summary>The arithmetic of rewards between customers. What is rounded is rounded once, halves away from zero.</summary>
public static class CustomerReward
{
    /// <summary>The friend's discount on a line: of the first of its product's collections, by name, that has one, else of all else; never more than the line's price.</summary>
    /// <param name="paidOn">The date of every conversion, in the book's zone. What cannot be converted is nothing.</param>
    /// <returns>Minor units of the order's currency.</returns>
    public static long DiscountDue(
        IEnumerable<FriendDiscount> discounts, Product product, long quantity, long unitPrice, Currency currency, ExchangeRates rates, Currency book, DateOnly paidOn)
    {
        var known = discounts.OrderBy(d => d.Collection, StringComparer.Ordinal).ToArray();
        if ((Array.Find(known, d => product.Collections.Any(c => c.Value == d.Collection)) ?? Array.Find(known, d => d.Collection.Length == 0)) is not { } discount) return 0;
        var list = unitPrice * quantity;
        return discount.PerUnit == 0 ? ((Fraction)list * discount.Percent).Round() : Math.Min(list, rates.Convert(discount.PerUnit * quantity, book, currency, paidOn) ?? 0);
    }

    /// <summary>The referrer's credit for what is left of an order after refunds.</summary>
    /// <param name="left">Goods in minor units of the order's currency.</param>
    /// <returns>Minor units of the book's currency; 0 where nothing is left, null where there is no rate.</returns>
    public static long? CreditDue(ReferrerCredit credit, long left, Currency currency, ExchangeRates rates, Currency book, DateOnly paidOn) =>
        left <= 0 ? 0 : rates.Convert(((Fraction)left * credit.Percent).Round(), currency, book, paidOn) + credit.Fixed;
}
