using EvenSplit.Books.Model;
using EvenSplit.Books.Reconcile;

namespace EvenSplit.Web.Pictures;

/// <summary>The line between what they say and what we say: straight where both agree, broken where something differs, open-ended where one side is missing.</summary>
/// <param name="Style">The state's own style of line; it is told in words too.</param>
public sealed record BenchLine(string Path, string Style, string Words)
{
    private const string Across = "M2 8 H58", LeftOnly = "M2 8 H24 M24 4 V12", RightOnly = "M36 8 H58 M36 4 V12";

    public static BenchLine Of(BenchItem item) => item switch
    {
        { Gross: null } => new(RightOnly, item.State == MatchState.Settled ? "settled" : "open", item.State == MatchState.Settled ? "only ours, settled" : "only ours"),
        { State: MatchState.Settled } => new(Across, "settled", "settled"),
        { State: MatchState.Matched, Ours: null } => new(LeftOnly, "agreed", "agreed as it is"),
        { State: MatchState.Matched } => new(Across, "agreed", "both agree"),
        { Ours: null, Suggested.Count: > 0 } => new(Across, "suggested", "perhaps"),
        { Ours: null } => new(LeftOnly, "open", "only theirs"),
        _ => new(Across, "differs", "belong together and differ"),
    };

    /// <summary>sale:HS-1 as sale of HS-1; several with their number.</summary>
    /// <param name="beside">What stands beside it and need not be said again.</param>
    public static string InWords(string ours, string beside = "")
    {
        if (ours.Contains('+', StringComparison.Ordinal)) return $"{ours.Split('+').Length} payments";
        var colon = ours.IndexOf(':', StringComparison.Ordinal);
        var id = ours[(colon + 1)..];
        return ours[..colon] switch
        {
            "sale" => id == beside ? "its sale" : $"sale of {id}",
            "remittance" => $"payment {id}",
            "payout" => $"payout of {id}",
            "earned" => id.Contains("..", StringComparison.Ordinal) ? "what was earned then" : $"earned on {id[(id.IndexOf(':', StringComparison.Ordinal) + 1)..]}",
            var kind => $"{kind} {id}",
        };
    }
}
