namespace EvenSplit.Formats.Scenarios;

// The scenario file as it is written (contract, section 10): names and optional fields exactly as there.

internal sealed record ScenarioDocument
{
    public required BookDocument Book { get; init; }
    public IReadOnlyList<RateDocument>? Rates { get; init; }
    public IReadOnlyList<ProcessorDocument>? Processors { get; init; }
    public IReadOnlyList<ChannelDocument>? Channels { get; init; }
    public required IReadOnlyList<ProductDocument> Products { get; init; }
    public required IReadOnlyList<PayeeDocument> Payees { get; init; }
    public required IReadOnlyList<AgreementDocument> Agreements { get; init; }
    public required IReadOnlyList<OrderDocument> Orders { get; init; }
    public IReadOnlyList<RefundDocument>? Refunds { get; init; }
    public IReadOnlyList<AdjustmentDocument>? Adjustments { get; init; }
    public IReadOnlyList<RunDocument>? Runs { get; init; }

    /// <summary>Whether some list has a null in it, which no type says it must not.</summary>
    public bool HasHoles() =>
        Holes(Rates) || Holes(Processors) || Holes(Channels) || Holes(Refunds) || Holes(Adjustments) || Holes(Runs)
        || Holes(Products) || Products.Any(p => Holes(p.Variants) || Holes(p.Collections))
        || Holes(Payees) || Payees.Any(p => Holes(p.Codes) || Holes(p.CustomerKeys) || Holes(p.Advances) || Holes(p.Agreements) || p.Agreements.Any(m => Holes(m.Products))
            || Holes(p.PersonalTerms) || (p.PersonalTerms ?? []).Any(t => Holes(t.Cases)))
        || Holes(Agreements) || Agreements.Any(a => Holes(a.Versions) || a.Versions.Any(v => Holes(v.Terms) || v.Terms.Any(t => Holes(t.Cases))))
        || Holes(Orders) || Orders.Any(o => Holes(o.Lines) || Holes(o.Codes) || Holes(o.Clicks))
        || (Refunds ?? []).Any(r => Holes(r.Lines)) || (Runs ?? []).Any(r => Holes(r.Payees));

    private static bool Holes<T>(IReadOnlyList<T>? items) where T : class => items is not null && items.Contains(null);
}

internal sealed record BookDocument
{
    public required string Currency { get; init; }
    public required string TimeZone { get; init; }
    public required string ClickModel { get; init; }
    public bool? AllowSelfReferral { get; init; }
}

internal sealed record RateDocument(DateOnly Date, string From, string To, string Rate);

internal sealed record ProcessorDocument(string Id, string Rate, long Fixed, string Currency);

internal sealed record ChannelDocument
{
    public required string Id { get; init; }
    public string? FeeRate { get; init; }
    public long? FeeFixed { get; init; }
    public string? Currency { get; init; }
    public string? RebateRate { get; init; }
}

internal sealed record ProductDocument
{
    public required string Id { get; init; }
    public IReadOnlyList<string>? Variants { get; init; }
    public IReadOnlyList<string>? Collections { get; init; }
    public string? Vendor { get; init; }
    public long? UnitCost { get; init; }
    public string? CostCurrency { get; init; }
    public int? ReturnDays { get; init; }
}

internal sealed record PayeeDocument
{
    public required string Id { get; init; }
    public required string Role { get; init; }
    public required string PayoutCurrency { get; init; }
    public required DateOnly ActiveFrom { get; init; }
    public DateOnly? ActiveTo { get; init; }
    public IReadOnlyList<PayeeCodeDocument>? Codes { get; init; }
    public IReadOnlyList<string>? CustomerKeys { get; init; }
    public string? RecruitedBy { get; init; }
    public int? HoldDays { get; init; }
    public bool? OnHold { get; init; }
    public long? Minimum { get; init; }
    public string? WithholdingPercent { get; init; }
    public long? TransferFee { get; init; }
    public int? FreeTransfers { get; init; }
    public IReadOnlyList<AdvanceDocument>? Advances { get; init; }
    public string? RecoupPercent { get; init; }
    public required IReadOnlyList<MembershipDocument> Agreements { get; init; }
    public IReadOnlyList<PersonalTermDocument>? PersonalTerms { get; init; }
}

internal sealed record AdvanceDocument(string Id, DateOnly On, long Amount);

internal sealed record MembershipDocument
{
    public required string Id { get; init; }
    public required DateOnly From { get; init; }
    public DateOnly? To { get; init; }
    public IReadOnlyList<string>? Products { get; init; }
}

internal sealed record PersonalTermDocument
{
    public required string Agreement { get; init; }
    public DateOnly? From { get; init; }
    public DateOnly? To { get; init; }
    public required ScopeDocument Scope { get; init; }
    public required IReadOnlyList<CaseDocument> Cases { get; init; }
}

internal sealed record AgreementDocument
{
    public required string Id { get; init; }
    public required string Basis { get; init; }
    public required string Currency { get; init; }
    public required IReadOnlyList<VersionDocument> Versions { get; init; }
}

/// <summary>A version of an agreement as written in a scenario and kept in a book.</summary>
public sealed record VersionDocument
{
    public required DateOnly From { get; init; }
    public int? WindowDays { get; init; }
    public int? HoldDays { get; init; }
    public string? SignOff { get; init; }
    public string? DiscountBorneBy { get; init; }
    public string? Tax { get; init; }
    public string? Shipping { get; init; }
    public string? Rebate { get; init; }
    public bool? DeductProcessingFee { get; init; }
    public bool? DeductChannelFee { get; init; }
    public bool? DeductCost { get; init; }
    public bool? AfterReferral { get; init; }
    public string? LostFees { get; init; }
    public string? RecruiterPercent { get; init; }
    public string? RecruiterOf { get; init; }
    public required IReadOnlyList<TermDocument> Terms { get; init; }
}

public sealed record TermDocument
{
    public required ScopeDocument Scope { get; init; }
    public required IReadOnlyList<CaseDocument> Cases { get; init; }
}

public sealed record ScopeDocument
{
    public bool? All { get; init; }
    public string? Collection { get; init; }
    public string? Product { get; init; }
    public string? Variant { get; init; }
}

public sealed record CaseDocument
{
    public ConditionsDocument? When { get; init; }
    public required ShareRateDocument Rate { get; init; }
}

public sealed record ConditionsDocument
{
    public long? OrderValueAtLeast { get; init; }
    public int? PaymentFrom { get; init; }
    public int? PaymentTo { get; init; }
    public string? Customer { get; init; }
    public long? SalesAtLeast { get; init; }
    public long? OrdersAtLeast { get; init; }
    public long? EarnedAtLeast { get; init; }
    public string? Window { get; init; }
}

public sealed record ShareRateDocument
{
    public string? Percent { get; init; }
    public long? PerUnit { get; init; }
    public long? PerOrder { get; init; }
    public string? Of { get; init; }
}

internal sealed record OrderDocument
{
    public required string Id { get; init; }
    public required string Channel { get; init; }
    public required string Currency { get; init; }
    public required DateTimeOffset PlacedAt { get; init; }
    public DateTimeOffset? PaidAt { get; init; }
    public string? Processor { get; init; }
    public bool? Test { get; init; }
    public bool? PricesIncludeTax { get; init; }
    public required string Customer { get; init; }
    public string? CustomerKey { get; init; }
    public string? OriginOrderId { get; init; }
    public DateTimeOffset? SignedOffAt { get; init; }
    public long? Discount { get; init; }
    public ShippingDocument? Shipping { get; init; }
    public long? ProcessingFee { get; init; }
    public long? ChannelFee { get; init; }
    public long? Rebate { get; init; }
    public string? ManualPayee { get; init; }
    public IReadOnlyList<string>? Codes { get; init; }
    public IReadOnlyList<ClickDocument>? Clicks { get; init; }
    public required IReadOnlyList<OrderLineDocument> Lines { get; init; }
}

internal sealed record ShippingDocument(long Amount, long Tax);

internal sealed record ClickDocument(string Payee, DateTimeOffset At);

internal sealed record OrderLineDocument
{
    public required string Id { get; init; }
    public required string Product { get; init; }
    public string? Variant { get; init; }
    public required long Quantity { get; init; }
    public required long UnitPrice { get; init; }
    public long? Discount { get; init; }
    public long? Tax { get; init; }
    public bool? RequiresShipping { get; init; }
    public int? PaymentNumber { get; init; }
}

internal sealed record RefundDocument
{
    public required string Id { get; init; }
    public required string Order { get; init; }
    public required DateTimeOffset At { get; init; }
    public required string Kind { get; init; }
    public long? Shipping { get; init; }
    public long? ShippingTax { get; init; }
    public long? ProcessingFeeReturned { get; init; }
    public long? DisputeFee { get; init; }
    public IReadOnlyList<RefundLineDocument>? Lines { get; init; }
}

internal sealed record RefundLineDocument(string Line, long Quantity, long Goods, long Tax);

internal sealed record AdjustmentDocument(string Id, string Payee, DateOnly On, long Amount, string Currency, string Note);

internal sealed record RunDocument
{
    public required string Id { get; init; }
    public required DateOnly AsOf { get; init; }
    public IReadOnlyList<string>? Payees { get; init; }
}
