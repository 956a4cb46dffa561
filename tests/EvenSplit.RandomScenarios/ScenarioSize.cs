namespace EvenSplit.RandomScenarios;

/// <summary>How much a random scenario holds.</summary>
public sealed record ScenarioSize
{
    public int Products { get; init; } = 8;
    public int Payees { get; init; } = 10;
    public int Agreements { get; init; } = 9;
    public int Orders { get; init; } = 40;
    public int Runs { get; init; } = 14;
    public int LinesAtMost { get; init; } = 4;
    /// <summary>Whether contribution and supply may cover everything; if not, each term covers one product.</summary>
    public bool WideScopes { get; init; } = true;

    /// <summary>What the benchmarks use: many agreements, payees on ladders, two and a half lines an order.</summary>
    public static ScenarioSize ForBenchmark(int orders) => new() { Products = 400, Payees = 300, Agreements = 120, Orders = orders, Runs = 12, WideScopes = false };
}
