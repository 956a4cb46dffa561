namespace EvenSplit.Core;

/// <summary>What is sold. A unit cost is in minor units of <see cref="CostCurrency"/>.</summary>
public sealed record Product
{
    public required ProductId Id { get; init; }
    public IReadOnlyList<VariantId> Variants { get; init; } = [];
    public IReadOnlyList<CollectionId> Collections { get; init; } = [];
    public PayeeId? Vendor { get; init; }
    public long? UnitCost { get; init; }
    public required Currency CostCurrency { get; init; }
    /// <summary>What a unit costs in orders placed from a date on, earliest first; the cost above holds until the first of them.</summary>
    public IReadOnlyList<DatedCost> LaterCosts { get; init; } = [];
    /// <summary>Days a customer may send it back; nothing earned on it clears earlier.</summary>
    public int ReturnDays { get; init; }

    /// <param name="placedOn">The date of placedAt in the book's zone.</param>
    public (long? Cost, Currency Currency) UnitCostOn(DateOnly placedOn)
    {
        for (var i = LaterCosts.Count - 1; i >= 0; i--)
        {
            if (LaterCosts[i].From <= placedOn) return (LaterCosts[i].Cost, LaterCosts[i].Currency);
        }
        return (UnitCost, CostCurrency);
    }
}

/// <summary>A unit cost from the start of a day, in minor units.</summary>
public sealed record DatedCost(DateOnly From, long Cost, Currency Currency);

/// <summary>What a payment processor takes: a fraction of what it charged and a fixed fee in minor units.</summary>
public sealed record Processor(ProcessorId Id, Rate FeeRate, long FeeFixed, Currency Currency)
{
    /// <summary>What holds from later dates on, earliest first; what is above holds until the first of them.</summary>
    public IReadOnlyList<(DateOnly From, Processor Schedule)> Later { get; init; } = [];

    /// <param name="date">The date of paidAt in the book's zone, of placedAt while unpaid.</param>
    public Processor On(DateOnly date) => Later.Count == 0 ? this : Later.LastOrDefault(l => l.From <= date).Schedule ?? this;
}

/// <summary>What a sales channel takes (of goods, net) and gives back for outside traffic.</summary>
public sealed record Channel(ChannelId Id, Rate FeeRate, long FeeFixed, Currency Currency, Rate RebateRate)
{
    /// <summary>What holds from later dates on, earliest first; what is above holds until the first of them.</summary>
    public IReadOnlyList<(DateOnly From, Channel Schedule)> Later { get; init; } = [];

    /// <param name="date">The date of paidAt in the book's zone, of placedAt while unpaid.</param>
    public Channel On(DateOnly date) => Later.Count == 0 ? this : Later.LastOrDefault(l => l.From <= date).Schedule ?? this;
}
