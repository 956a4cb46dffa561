using EvenSplit.Books.Model;
using EvenSplit.Core;

namespace EvenSplit.Books.PayRuns;

/// <summary>One payee's line in a run. <see cref="Id"/> is null while the run is gathering.</summary>
public sealed record RunRow(
    int? Id,
    string Payee,
    string Name,
    PayeeRole Role,
    Remittance Figures,
    RemittanceState State,
    DateOnly? PaidOn,
    string? Reference)
{
    /// <summary>Whether anything happens to the payee in this run.</summary>
    public bool HasFigures => Figures is not
    { Opening: 0, Earned: 0, Adjustments: 0, Reason: not (RemittanceReason.OnHold or RemittanceReason.RateMissing) };
}

/// <summary>The control sums of a run in one currency.</summary>
public sealed record RunTotals(Currency Currency, int Payees, Remittance Sum, long Confirmed);

/// <summary>A run as a person looks at it.</summary>
public sealed record RunView(
    int Id,
    DateOnly AsOf,
    RunState State,
    string PreparedBy,
    string? LockedBy,
    DateTimeOffset? LockedAt,
    string? ApprovedBy,
    DateTimeOffset? ApprovedAt,
    IReadOnlyList<RunRow> Rows)
{
    public IReadOnlyList<RunTotals> Totals { get; } = Rows.GroupBy(r => r.Figures.Currency).OrderBy(g => g.Key.Code, StringComparer.Ordinal).Select(g => new RunTotals(
        g.Key,
        g.Count(r => r.Figures.Paid > 0),
        new Remittance
        {
            Payee = default,
            Currency = g.Key,
            Opening = g.Sum(r => r.Figures.Opening),
            Earned = g.Sum(r => r.Figures.Earned),
            Adjustments = g.Sum(r => r.Figures.Adjustments),
            Recouped = g.Sum(r => r.Figures.Recouped),
            Withheld = g.Sum(r => r.Figures.Withheld),
            TransferFee = g.Sum(r => r.Figures.TransferFee),
            Paid = g.Sum(r => r.Figures.Paid),
            Carried = g.Sum(r => r.Figures.Carried),
            Reason = RemittanceReason.Paid,
        },
        g.Where(r => r.State == RemittanceState.Confirmed).Sum(r => r.Figures.Paid))).ToArray();

    /// <summary>Remittances that are to be paid and are not marked so yet.</summary>
    public int Unpaid => Rows.Count(r => r.Figures.Paid > 0 && r.State == RemittanceState.Ready);
}
