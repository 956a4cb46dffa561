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
    public List<VariantRecord> Variants { get; set; } = [];
    public List<ProductCollectionRecord> Collections { get; set; } = [];
}

public sealed class VariantRecord
{
    public required string Id { get; set; }
    public string ProductId { get; set; } = "";
    public required string Name { get; set; }
}

/// <summary>A product in a collection.</summary>
public sealed class ProductCollectionRecord
{
    public string ProductId { get; set; } = "";
    public required string Collection { get; set; }
}
