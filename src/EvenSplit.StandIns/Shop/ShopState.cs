namespace EvenSplit.StandIns.Shop;

/// <summary>An order of the shop. Amounts in cents, tax included.</summary>
public sealed record ShopOrder
{
    public required string Id { get; init; }
    public required string Product { get; init; }
    public required long Quantity { get; init; }
    public required long UnitPrice { get; init; }
    public required long Tax { get; init; }
    public required string Customer { get; init; }
    public string Visitor { get; init; } = "";
    public string Code { get; init; } = "";
    public bool IsTest { get; init; }
    public bool IsReturning { get; init; }
    public int PaymentNumber { get; init; } = 1;
    /// <summary>The first order of a subscription that this one renews.</summary>
    public string? Origin { get; init; }
    public DateTimeOffset PlacedAt { get; init; }
    public DateTimeOffset? PaidAt { get; set; }
    public long Fee { get; set; }
    public bool IsTakenBack { get; set; }
    /// <summary>The day of the next payment; null where none follows.</summary>
    public DateOnly? RenewsOn { get; set; }
    /// <summary>The offers that follow, and the step that is on offer; null where the path has ended.</summary>
    public string? Path { get; init; }
    public int? Step { get; set; }

    public long Charged => UnitPrice * Quantity;
}

/// <summary>An event on its way; it is sent until it is taken or refused for good.</summary>
public sealed record OutgoingEvent(string Id, string Body)
{
    public int Attempts { get; set; }
    public string? Refusal { get; set; }
}

/// <summary>A movement of money at the processor, in cents.</summary>
/// <param name="Refund">The shop's id of the refund; empty for a sale.</param>
public sealed record Movement(string Type, string Order, DateOnly On, long Gross, long Fee, string Refund = "");

/// <summary>All the shop knows.</summary>
public sealed class ShopState(ShopSettings settings) : KeptFile<ShopState.Kept>(settings.StateFile, new Kept { Today = settings.Today })
{
    /// <summary>The shop's date; its time of day is the machine's.</summary>
    public DateTimeOffset Now => Read(k => new DateTimeOffset(k.Today.ToDateTime(TimeOnly.FromTimeSpan(TimeProvider.System.GetUtcNow().TimeOfDay)), TimeSpan.Zero));

    /// <summary>What stands in the file.</summary>
    public sealed class Kept
    {
        public DateOnly Today { get; set; }
        public int LastOrder { get; set; } = 30000;
        public int LastRefund { get; set; }
        public List<ShopOrder> Orders { get; init; } = [];
        public List<OutgoingEvent> Outgoing { get; init; } = [];
        public List<Movement> Unsettled { get; init; } = [];
        public int Settlements { get; set; }
        /// <summary>The month whose fee was taken last: year × 100 + month.</summary>
        public int FeeTakenFor { get; set; }
    }
}
