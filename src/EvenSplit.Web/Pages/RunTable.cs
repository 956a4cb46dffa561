using EvenSplit.Books.Model;
using EvenSplit.Books.PayRuns;
using EvenSplit.Core;

namespace EvenSplit.Web.Pages;

/// <summary>The table of a run, or of one that is only looked ahead to.</summary>
/// <param name="CanPay">Whether payments may be marked: it is approved, and somebody who may is looking.</param>
/// <param name="ShowsAll">Whether payees with nothing this time have rows of their own.</param>
/// <param name="CanLook">Whether what is unusual may be marked as looked at.</param>
public sealed record RunTable(Period Period, RunView Run, bool CanPay = false, bool CanLook = false, bool ShowsAll = false)
{
    /// <summary>Remittances that were marked in a form that was refused.</summary>
    public IReadOnlyCollection<int> Marked { get; init; } = [];

    public IReadOnlyList<RunRow> Shown { get; } = [.. Run.Rows.Where(r => ShowsAll || r.HasFigures)];

    /// <summary>Those with nothing this time, one row a currency: so that rows and control sums agree, and who drops to nothing is seen.</summary>
    public IReadOnlyList<(Currency Currency, int Payees, long LastPaid)> Rest { get; } =
        ShowsAll ? [] : [.. Run.Rows.Where(r => !r.HasFigures).GroupBy(r => r.Figures.Currency).OrderBy(g => g.Key.Code, StringComparer.Ordinal).Select(g => (g.Key, g.Count(), g.Sum(r => r.LastPaid ?? 0)))];

    /// <summary>Tells it from other runs; one that is only looked ahead to by its date.</summary>
    public string Name { get; } = Run.Id == 0 ? $"{Run.AsOf:yyyy-MM-dd}" : Run.Id.ToString(System.Globalization.CultureInfo.InvariantCulture);

    public string Link(RunRow row) => Run.State == RunState.Gathering ? $"/{Period}/people/{row.Payee}" : $"/{Period}/pay/{Run.Id}/statement/{row.Payee}";
}
