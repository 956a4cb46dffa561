using EvenSplit.Books.Model;
using EvenSplit.Books.PayRuns;
using EvenSplit.Core;

namespace EvenSplit.Web.Pages;

/// <summary>The table of a run, or of one that is only looked ahead to.</summary>
/// <param name="CanPay">Whether payments may be marked: it is approved, and somebody who may is looking.</param>
/// <param name="CanLook">Whether what is unusual may be marked as looked at.</param>
public sealed record RunTable(Period Period, RunView Run, bool CanPay = false, bool CanLook = false)
{
    public IReadOnlyList<RunRow> Shown { get; } = [.. Run.Rows.Where(r => r.HasFigures)];

    public string Link(RunRow row) => Run.State == RunState.Gathering ? $"/{Period}/people/{row.Payee}" : $"/{Period}/pay/{Run.Id}/statement/{row.Payee}";
}
