using EvenSplit.Core;

namespace EvenSplit.Books.Terms;

/// <summary>An amount as posted and as it would be, in minor units of a currency.</summary>
public readonly record struct ThenAndNow(long Then, long Now)
{
    public long Difference => Now - Then;

    public static ThenAndNow operator +(ThenAndNow a, ThenAndNow b) => new(a.Then + b.Then, a.Now + b.Now);
}

/// <summary>Somebody or something under a rehearsed draft: a payee, a product, the house.</summary>
/// <param name="Id">The payee's or the product's; empty for the house.</param>
/// <param name="Currency">Code of the currency of the amounts.</param>
public sealed record RehearsedRow(string Id, string Currency, ThenAndNow Amount);

/// <summary>An order that comes out differently, refunds so far included.</summary>
/// <param name="House">What the house keeps, in minor units of the order's currency.</param>
/// <param name="Steps">What left the order before the shares, in the order's currency: charged, tax, fees, rebate.</param>
/// <param name="Shares">Of each payee at the sale, in the order's currency.</param>
public sealed record RehearsedOrder(string Order, string Currency, ThenAndNow House, RehearsedSteps Steps, IReadOnlyList<RehearsedRow> Shares);

/// <summary>Figures of an order at the sale that no agreement moves, in minor units of its currency.</summary>
public sealed record RehearsedSteps(long Charged, long Tax, long ProcessingFee, long ChannelFee, long Rebate);

/// <summary>An exception the draft would raise that is not there now.</summary>
public sealed record RehearsedException(ExceptionCode Code, string Order, string? Line, string? Payee);

/// <summary>What a rehearsal came to.</summary>
/// <param name="Orders">How many orders were compared.</param>
/// <param name="Differing">How many of them come out differently.</param>
/// <param name="Changed">The orders that change most, at most fifty.</param>
/// <param name="Exceptions">The first fifty.</param>
public sealed record RehearsalResult(
    int Orders, int Differing, IReadOnlyList<RehearsedRow> Payees, IReadOnlyList<RehearsedRow> Products, IReadOnlyList<RehearsedRow> House,
    IReadOnlyList<RehearsedOrder> Changed, int ExceptionCount, IReadOnlyList<RehearsedException> Exceptions);
