using EvenSplit.Core;

namespace EvenSplit.Books.Model;

/// <summary>What customers get who bring a friend, and what the friend gets. Amounts in minor units of the book's currency.</summary>
public sealed class RewardSchemeRecord
{
    public int Id { get; set; }
    public required string Name { get; set; }
    public DateOnly From { get; set; }
    public DateOnly? To { get; set; }
    /// <summary>Whether only a friend who has never bought before brings anything.</summary>
    public bool NewCustomersOnly { get; set; }
    /// <summary>Store credit for the referrer, of the goods net that stay sold.</summary>
    public Rate CreditPercent { get; set; }
    /// <summary>Store credit for each order of which anything stays sold.</summary>
    public long CreditFixed { get; set; }
    /// <summary>Days after payment before the credit is given.</summary>
    public int HoldDays { get; set; }
    public List<FriendDiscountRecord> Discounts { get; set; } = [];
}

/// <summary>What is taken off for a friend on one group of products, or on all.</summary>
public sealed class FriendDiscountRecord
{
    public int SchemeId { get; set; }
    /// <summary>Empty for all products that no other row names.</summary>
    public required string Collection { get; set; }
    public Rate Percent { get; set; }
    /// <summary>Minor units a unit.</summary>
    public long PerUnit { get; set; }
}

/// <summary>The code a customer gives to friends.</summary>
public sealed class CustomerCodeRecord
{
    public required string Code { get; set; }
    public required string CustomerKey { get; set; }
    public required string Name { get; set; }
}

/// <summary>Store credit given to a customer on a day. Never edited: what changes later is in the next.</summary>
public sealed class StoreCreditRecord
{
    public int Id { get; set; }
    public DateOnly On { get; set; }
    public required string CustomerKey { get; set; }
    public long Amount { get; set; }
    public required string By { get; set; }
}
