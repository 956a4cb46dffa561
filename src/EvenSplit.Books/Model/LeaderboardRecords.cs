namespace EvenSplit.Books.Model;

/// <summary>By what a leaderboard ranks: goods sold net of tax, orders, or buyers who bought for the first time.</summary>
public enum LeaderboardMeasure { Sales, Orders, NewCustomers }

/// <summary>A campaign in which affiliates see how they rank.</summary>
public sealed class LeaderboardRecord
{
    public int Id { get; set; }
    public required string Name { get; set; }
    /// <summary>Who takes part: whoever is on it; null for all affiliates.</summary>
    public string? AgreementId { get; set; }
    public LeaderboardMeasure Measure { get; set; }
    /// <summary>The first day, in the book's zone; orders count on the day they are paid.</summary>
    public DateOnly From { get; set; }
    /// <summary>The last day.</summary>
    public DateOnly To { get; set; }
    /// <summary>Whether the names of all are shown; each sees their own rank only otherwise.</summary>
    public bool ShowsNames { get; set; }
    /// <summary>When the places were worked out last; null before the first time.</summary>
    public DateTimeOffset? WorkedOutAt { get; set; }
    public List<LeaderboardPlaceRecord> Places { get; set; } = [];
}

/// <summary>Where somebody stands on a leaderboard, as of when it was worked out.</summary>
public sealed class LeaderboardPlaceRecord
{
    public int BoardId { get; set; }
    public required string Payee { get; set; }
    /// <summary>Who has the same figure has the same rank.</summary>
    public int Rank { get; set; }
    /// <summary>Minor units of the book's currency, or a number.</summary>
    public long Figure { get; set; }
}
