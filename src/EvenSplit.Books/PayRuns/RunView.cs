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
    public PayoutMethod Method { get; init; }

    /// <summary>Where it goes, as far as that may be shown.</summary>
    public string? Shown { get; init; }

    /// <summary>The name of the payee with whose payment it goes out.</summary>
    public string? Through { get; init; }

    /// <summary>Not before this day.</summary>
    public DateOnly? ExecuteOn { get; init; }

    /// <summary>Invoices that stand on it.</summary>
    public IReadOnlyList<NotedInvoice> Invoices { get; init; } = [];

    /// <summary>Why it did not arrive.</summary>
    public string? Why { get; init; }

    public bool HasEvidence { get; init; }

    /// <summary>Whether it was issued in a file: then only the bank or wallet says what becomes of it.</summary>
    public bool IsInFile { get; init; }

    /// <summary>What is unusual about it, and who has looked.</summary>
    public IReadOnlyList<RunMarkRecord> Marks { get; init; } = [];

    /// <summary>What of the earned was taken back, 0 or below, in the payout currency; each currency's sum converted once.</summary>
    public long Reversed { get; init; }

    /// <summary>What the last run before this one paid the payee; null where there was none.</summary>
    public long? LastPaid { get; init; }

    /// <summary>Whether anything happens to the payee in this run.</summary>
    public bool HasFigures => Figures is not
    { Opening: 0, Earned: 0, Adjustments: 0, Reason: not (RemittanceReason.OnHold or RemittanceReason.RateMissing) };
}

/// <summary>The control sums of a run in one currency.</summary>
/// <param name="Reversed">What of the earned was taken back, 0 or below.</param>
public sealed record RunTotals(Currency Currency, int Payees, Remittance Sum, long Confirmed, long LastPaid, long Reversed);

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
    /// <summary>Whether it serves some payees only.</summary>
    public bool IsForSome { get; init; }

    public DateTimeOffset? IssuedAt { get; init; }

    /// <summary>As <see cref="PayRunRecord.OnePerson"/>.</summary>
    public string? OnePerson { get; init; }

    public IReadOnlyList<RunRateRecord> Rates { get; init; } = [];

    public int NotLookedAt => Rows.Sum(r => r.Marks.Count(m => m.LookedAtBy is null));

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
        g.Where(r => r.State == RemittanceState.Confirmed).Sum(r => r.Figures.Paid), g.Sum(r => r.LastPaid ?? 0), g.Sum(r => r.Reversed))).ToArray();

    /// <summary>Remittances that are to be paid and are not known to have been.</summary>
    public int Unpaid => Rows.Count(r => r.Figures.Paid > 0 && r.State is RemittanceState.Ready or RemittanceState.Sent);

    /// <summary>The control sums as one line, so that whoever approves says which they saw.</summary>
    public string ControlText => ControlTextOf(Rows.Where(r => r is { Figures.Paid: > 0, State: not RemittanceState.SetAside })
        .GroupBy(r => r.Figures.Currency.Code).Select(g => (g.Key, g.Count(), g.Sum(r => r.Figures.Paid))));

    internal static string ControlTextOf(IEnumerable<(string Currency, int Payments, long Paid)> sums) =>
        string.Join(' ', sums.OrderBy(s => s.Currency, StringComparer.Ordinal).Select(s => string.Create(System.Globalization.CultureInfo.InvariantCulture, $"{s.Currency}:{s.Payments}:{s.Paid}")));
}
