using EvenSplit.Books.Model;
using EvenSplit.Core;

namespace EvenSplit.Books.Reconcile;

/// <summary>A line or something awaited whose match is kept otherwise than it is found from nothing.</summary>
internal sealed record MatchDifference(string Of, string Kept, string Found)
{
    public static string NameOf(OutsideLineRecord line) => $"line {line.LineId} of {line.Source}";

    public static string Words(OutsideLineRecord line) =>
        $"{line.State}{(line.Findings == Finding.None ? "" : $", {line.Findings}")}{(line.Ours is null ? "" : $", {line.Ours} of {line.GrossOurs}")}{(line.PartFindings == Finding.None ? "" : $", statement {line.PartFindings}")}";

    /// <summary>Where what is awaited of ours is kept otherwise than it is wanted.</summary>
    public static IEnumerable<MatchDifference> Between(IEnumerable<AwaitedRecord> kept, IEnumerable<AwaitedRecord> wanted)
    {
        var (held, should) = (kept.ToDictionary(a => a.Ours, Words), wanted.ToDictionary(a => a.Ours, Words));
        return held.Keys.Union(should.Keys).Select(ours => new MatchDifference(ours, held.GetValueOrDefault(ours, "not awaited"), should.GetValueOrDefault(ours, "not awaited"))).Where(d => d.Kept != d.Found);
    }

    private static string Words(AwaitedRecord awaited) => $"{awaited.Gross} {awaited.Currency}{(awaited.Fee == 0 ? "" : $" less {awaited.Fee}")}, {awaited.On.InWords()}, at {awaited.Source}";
}
