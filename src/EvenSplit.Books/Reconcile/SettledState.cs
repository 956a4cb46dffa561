using EvenSplit.Books.Model;
using EvenSplit.Core;

namespace EvenSplit.Books.Reconcile;

/// <summary>What becomes of a line once it is known what does not agree and how somebody settled it (reconcile contract, sections 2 to 4 and 8).</summary>
internal static class SettledState
{
    /// <summary>Sets what a line is held against.</summary>
    /// <param name="settlings">Of this line; undone ones are passed over.</param>
    /// <returns>Whether anything of it is otherwise than it was.</returns>
    public static bool Set(this OutsideLineRecord line, string? ours, long? grossOurs, long? feeOurs, Finding findings, IEnumerable<SettlingRecord> settlings, DateOnly today)
    {
        findings |= line.PartFindings;
        var active = settlings.Where(s => s.UndoneBy is null).ToArray();
        // What was accepted then says nothing of what has come to differ since.
        var isCovered = findings == Finding.None || active.Any(s => s.Way switch
        {
            SettlingWay.Wait => s.Until >= today,
            SettlingWay.Accept or SettlingWay.BookTo => (findings & ~s.Findings) == Finding.None,
            _ => false,
        });
        var state = !isCovered ? MatchState.Open : active.Length > 0 ? MatchState.Settled : MatchState.Matched;
        if (state == MatchState.Settled) findings = active.Aggregate(findings, (all, s) => all | s.Findings);
        if ((line.Ours, line.GrossOurs, line.FeeOurs, line.Findings, line.State) == (ours, grossOurs, feeOurs, findings, state)) return false;
        (line.Ours, line.GrossOurs, line.FeeOurs, line.Findings, line.State) = (ours, grossOurs, feeOurs, findings, state);
        return true;
    }

    /// <summary>The columns of a line that <see cref="Set"/> sets.</summary>
    public static IReadOnlyCollection<string> Columns { get; } =
        [nameof(OutsideLineRecord.Ours), nameof(OutsideLineRecord.GrossOurs), nameof(OutsideLineRecord.FeeOurs), nameof(OutsideLineRecord.Findings), nameof(OutsideLineRecord.State)];
}
