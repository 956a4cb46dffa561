using EvenSplit.Core;

namespace EvenSplit.Books.Model;

/// <summary>An order: the facts as reported, and what it came to. Minor units of <see cref="Currency"/>.</summary>
public sealed class OrderRecord
{
    public long Id { get; set; }
    public required string OrderId { get; set; }
    public required string Channel { get; set; }
    public required string Currency { get; set; }
    public DateTimeOffset PlacedAt { get; set; }
    public DateTimeOffset? PaidAt { get; set; }
    /// <summary>The month of paidAt in the book's zone; of placedAt while unpaid.</summary>
    public int Period { get; set; }
    public string? Processor { get; set; }
    public bool IsTest { get; set; }
    /// <summary>When a test order came in, by the machine's clock; it is removed an hour later.</summary>
    public DateTimeOffset? TestSince { get; set; }
    public bool PricesIncludeTax { get; set; }
    public CustomerKind Customer { get; set; }
    public string? CustomerKey { get; set; }
    public string? Origin { get; set; }
    /// <summary>What the shop knows the visitor by who placed it: their clicks are candidates.</summary>
    public string? Visitor { get; set; }
    public long Discount { get; set; }
    public long Shipping { get; set; }
    public long ShippingTax { get; set; }
    public long? ActualProcessingFee { get; set; }
    public long? ActualChannelFee { get; set; }
    public long? ActualRebate { get; set; }
    public string? ManualPayee { get; set; }
    public DateTimeOffset? SignedOffAt { get; set; }
    /// <summary>Fingerprint of the facts: the same file again is seen to change nothing.</summary>
    public long FactsHash { get; set; }

    public OrderStatus Status { get; set; }
    public string? AttributedTo { get; set; }
    public AttributionVia? Via { get; set; }
    public long GoodsNet { get; set; }
    public long Tax { get; set; }
    public long ShippingNet { get; set; }
    public long Charged { get; set; }
    public long ProcessingFee { get; set; }
    public long ChannelFee { get; set; }
    public long Rebate { get; set; }
    public long Affiliates { get; set; }
    public long Collaborators { get; set; }
    public long Vendors { get; set; }
    public long House { get; set; }
    /// <summary>Shipping, net, that was not passed on to a payee: part of what the house keeps.</summary>
    public long ShippingKept { get; set; }
    public int Exceptions { get; set; }
    /// <summary>Whether something of it was refunded.</summary>
    public bool IsRefunded { get; set; }
    /// <summary>Whether a code of one payee and a click of another claim it.</summary>
    public bool IsContested { get; set; }

    /// <summary>Those it had before a correction too.</summary>
    public List<OrderLineRecord> Lines { get; set; } = [];

    /// <summary>The lines it has now, in their order.</summary>
    public IEnumerable<OrderLineRecord> CurrentLines => Lines.Where(l => l.Position is not null).OrderBy(l => l.Position);

    /// <summary>By line id, the numbers of the lines it has now.</summary>
    public Dictionary<string, int> LineNumbers() => CurrentLines.ToDictionary(l => l.LineId, l => l.Number);
    public List<OrderCodeRecord> Codes { get; set; } = [];
    public List<OrderClickRecord> Clicks { get; set; } = [];
}

/// <summary>A coupon code on an order, as written there.</summary>
public sealed class OrderCodeRecord
{
    public long OrderId { get; set; }
    public int Position { get; set; }
    public required string Code { get; set; }
}

/// <summary>A click on a payee's link before an order.</summary>
public sealed class OrderClickRecord
{
    public long OrderId { get; set; }
    public int Position { get; set; }
    public required string Payee { get; set; }
    public DateTimeOffset At { get; set; }
}

/// <summary>
/// A line of an order. A correction that drops a line, or says it was another product, leaves the line as it was: entries that were posted for it
/// go on naming it.
/// </summary>
public sealed class OrderLineRecord
{
    public long OrderId { get; set; }
    /// <summary>Given once within the order and never to another line; what is posted for the line names it.</summary>
    public int Number { get; set; }
    /// <summary>From 0, in the order's own order; null for a line that the order has no more.</summary>
    public int? Position { get; set; }
    public required string LineId { get; set; }
    public required string Product { get; set; }
    public string? Variant { get; set; }
    public long Quantity { get; set; }
    public long UnitPrice { get; set; }
    public long Discount { get; set; }
    public long Tax { get; set; }
    public bool RequiresShipping { get; set; }
    public int? PaymentNumber { get; set; }
}

public sealed class OrderExceptionRecord
{
    public long Id { get; set; }
    public long OrderId { get; set; }
    public ExceptionCode Code { get; set; }
    public string? LineId { get; set; }
    public string? Payee { get; set; }
    /// <summary>What is off plan, where the price audit found it; else null.</summary>
    public PriceFault? Price { get; set; }
    /// <summary>As <see cref="PriceFinding"/> has them.</summary>
    public long? Expected { get; set; }
    public long? Actual { get; set; }
    /// <summary>Of its order, as are the next two: so that causes are counted without looking at orders.</summary>
    public int Period { get; set; }
    /// <summary>The processor, currency, product or payee it is about; empty where each order is its own.</summary>
    public string Subject { get; set; } = "";
    /// <summary>Whether nobody has let it stand.</summary>
    public bool IsOpen { get; set; } = true;
}

public sealed class RefundRecord
{
    public long Id { get; set; }
    public required string RefundId { get; set; }
    public long OrderId { get; set; }
    public DateTimeOffset At { get; set; }
    public RefundKind Kind { get; set; }
    public long Shipping { get; set; }
    public long ShippingTax { get; set; }
    public long ProcessingFeeReturned { get; set; }
    public long DisputeFee { get; set; }
    public long FactsHash { get; set; }
    /// <summary>Since when it counts as never having been; such a one is among all refunds only.</summary>
    public DateTimeOffset? WithdrawnAt { get; set; }
    public string WithdrawnBy { get; set; } = "";
    public string WhyWithdrawn { get; set; } = "";
    public List<RefundLineRecord> Lines { get; set; } = [];
}

/// <summary>What was reported of an order before it was changed: a file that says so again would put older values back.</summary>
public sealed class EarlierFactsRecord
{
    public long OrderId { get; set; }
    public long FactsHash { get; set; }
    /// <summary>When they were replaced last.</summary>
    public DateTimeOffset ReplacedAt { get; set; }
}

public sealed class RefundLineRecord
{
    public long RefundId { get; set; }
    public int Position { get; set; }
    public required string LineId { get; set; }
    public long Quantity { get; set; }
    public long Goods { get; set; }
    public long Tax { get; set; }
}

/// <summary>
/// One posted amount owed or taken back. The database refuses any change but one: the day on which it clears, until a run takes it. A run takes
/// whatever of a payee has cleared by its date and is in no earlier run (<see cref="TakingRecord"/>).
/// </summary>
public sealed class EntryRecord
{
    public long Id { get; set; }
    public long OrderId { get; set; }
    /// <summary>As <see cref="OrderLineRecord.Number"/>.</summary>
    public int LineNumber { get; set; }
    public required string Payee { get; set; }
    public required string Agreement { get; set; }
    public EntryPart Part { get; set; }
    /// <summary>The refund that caused it; null for the sale's own.</summary>
    public long? RefundId { get; set; }
    public long Amount { get; set; }
    public required string Currency { get; set; }
    public DateOnly PostedOn { get; set; }
    /// <summary>The month of <see cref="PostedOn"/>.</summary>
    public int Period { get; set; }
    public DateOnly? ClearsOn { get; set; }
    /// <summary>The last taking there was when it was posted, or when the day on which it clears last changed: only later ones can take it.</summary>
    public int OpenSince { get; set; }
    /// <summary>The run that took it; null while it is in none. Follows from the takings; the database tells it.</summary>
    public int? RunId { get; set; }
}

/// <summary>A payee's entries that clear on one day, in one currency, told in sums.</summary>
public abstract class ClearingSum
{
    public required string Payee { get; set; }
    public required string Currency { get; set; }
    /// <summary>The last day there is, while a sign-off is awaited.</summary>
    public DateOnly ClearsOn { get; set; }
    public long Amount { get; set; }
    /// <summary>What of it takes back: the sum of the amounts below 0.</summary>
    public long Reversed { get; set; }
    public long Entries { get; set; }
    /// <summary>As <see cref="EntrySumRecord.Fingerprint"/>.</summary>
    public long Fingerprint { get; set; }
}

/// <summary>Kept sum of entries that are in no run yet.</summary>
public sealed class OpenSumRecord : ClearingSum;

/// <summary>Kept sum of entries that a run took.</summary>
public sealed class TakenSumRecord : ClearingSum
{
    public int RunId { get; set; }
}

/// <summary>
/// That a run took what a payee had open: every entry that clears by its date and is in no earlier run. One row, however many entries. An entry can so
/// be in one run only; the database lets none move that is in one.
/// </summary>
public sealed class TakingRecord
{
    /// <summary>Rises from taking to taking and is never used again.</summary>
    public int Id { get; set; }
    public int RunId { get; set; }
    public required string Payee { get; set; }
    public DateOnly AsOf { get; set; }
}

/// <summary>Kept sum of a payee's entries posted in a month, sales and refunds apart.</summary>
public sealed class EntrySumRecord
{
    public int Period { get; set; }
    public required string Payee { get; set; }
    public required string Currency { get; set; }
    public bool IsReversal { get; set; }
    public long Entries { get; set; }
    public long Amount { get; set; }
    /// <summary>The sum, around 2^64, of the fingerprints of these entries: what never changes of them, in one number.</summary>
    public long Fingerprint { get; set; }
}

/// <summary>Kept sums of the orders paid in a month, per currency, so that no screen adds up all of them.</summary>
public sealed class PeriodTotalsRecord
{
    public int Period { get; set; }
    public required string Currency { get; set; }
    public long Orders { get; set; }
    public long GoodsNet { get; set; }
    public long Tax { get; set; }
    public long ShippingNet { get; set; }
    public long Charged { get; set; }
    public long ProcessingFee { get; set; }
    public long ChannelFee { get; set; }
    public long Rebate { get; set; }
    public long Affiliates { get; set; }
    public long Collaborators { get; set; }
    public long Vendors { get; set; }
    public long House { get; set; }
    public long ShippingKept { get; set; }
    public long WithExceptions { get; set; }
}

/// <summary>Kept sums of the paid orders of a month by what a list of sales can be narrowed to, so that no narrowed list adds up its orders.</summary>
public sealed class SalesSumRecord
{
    public int Period { get; set; }
    public required string Currency { get; set; }
    public required string Channel { get; set; }
    /// <summary>Empty where nobody brought them.</summary>
    public required string BroughtBy { get; set; }
    public bool HasExceptions { get; set; }
    public bool IsRefunded { get; set; }
    public long Orders { get; set; }
    public long Charged { get; set; }
    public long Tax { get; set; }
    /// <summary>Of processing and channel, less rebates.</summary>
    public long Fees { get; set; }
    public long Affiliates { get; set; }
    public long Collaborators { get; set; }
    public long Vendors { get; set; }
    public long House { get; set; }
}
