namespace EvenSplit.Books.Model;

public sealed class ProductRecord
{
    public required string Id { get; set; }
    public required string Name { get; set; }
    public long Price { get; set; }
    public required string Currency { get; set; }
    public string? Vendor { get; set; }
    public long? UnitCost { get; set; }
    public required string CostCurrency { get; set; }
    public int ReturnDays { get; set; }
    /// <summary>As <see cref="Formats.Csv.PlanText"/> writes it; empty where any price will do.</summary>
    public string PricePlan { get; set; } = "";
    /// <summary>As <see cref="Formats.Csv.PlanText"/> writes it; empty where any number of payments will do.</summary>
    public string PaymentPlan { get; set; } = "";
    public List<ProductCostRecord> Costs { get; set; } = [];
    public List<VariantRecord> Variants { get; set; } = [];
    public List<ProductCollectionRecord> Collections { get; set; } = [];
}

public sealed class VariantRecord
{
    public required string Id { get; set; }
    public string ProductId { get; set; } = "";
    public required string Name { get; set; }
}

/// <summary>What a unit costs in orders placed from a day on, in minor units.</summary>
public sealed class ProductCostRecord
{
    public string ProductId { get; set; } = "";
    public DateOnly From { get; set; }
    public long Cost { get; set; }
    public required string Currency { get; set; }
}

/// <summary>A first offer and the follow-on offers after it.</summary>
public sealed class OfferPathRecord
{
    public required string Id { get; set; }
    public required string Name { get; set; }
    public List<OfferStepRecord> Steps { get; set; } = [];
}

public sealed class OfferStepRecord
{
    public string PathId { get; set; } = "";
    /// <summary>From 0; the first offer is the first.</summary>
    public int Position { get; set; }
    public required string Product { get; set; }
    /// <summary>The position of the step that follows; null ends the path.</summary>
    public int? OnAccept { get; set; }
    public int? OnDecline { get; set; }
}

/// <summary>A sale of a product whose plan counts sales.</summary>
public sealed class CountedSaleRecord
{
    public required string Product { get; set; }
    public DateTimeOffset PlacedAt { get; set; }
    public long OrderId { get; set; }
    public int LineNumber { get; set; }
    public long Quantity { get; set; }
}

/// <summary>Kept sum of the counted sales of a product on one day: a sale that comes late changes its own day and no other row.</summary>
public sealed class CountedDayRecord
{
    public required string Product { get; set; }
    /// <summary>Of placing, in UTC.</summary>
    public DateOnly On { get; set; }
    public long Quantity { get; set; }
}

/// <summary>A product in a collection.</summary>
public sealed class ProductCollectionRecord
{
    public string ProductId { get; set; } = "";
    public required string Collection { get; set; }
}
