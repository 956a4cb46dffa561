namespace EvenSplit.Core;

public enum RemittanceReason { Paid, Nothing, Negative, BelowMinimum, OnHold, RateMissing }

/// <summary>One payee's figures in a run (contract, section 9): minor units of the payee's payout currency.</summary>
public sealed record Remittance
{
    public required PayeeId Payee { get; init; }
    public required Currency Currency { get; init; }
    public required long Opening { get; init; }
    public long Earned { get; init; }
    public long Adjustments { get; init; }
    public long Recouped { get; init; }
    public long Withheld { get; init; }
    public long TransferFee { get; init; }
    public long Paid { get; init; }
    public required long Carried { get; init; }
    public required RemittanceReason Reason { get; init; }
    /// <summary>What was recouped from which advance, the oldest first.</summary>
    public IReadOnlyList<(string AdvanceId, long Amount)> RecoupedFrom { get; init; } = [];

    /// <summary>Whether the run takes the payee's entries and adjustments; if not, everything is left for a later run.</summary>
    public bool TakesEntries => Reason is not (RemittanceReason.OnHold or RemittanceReason.RateMissing);

    public long Due => Opening + Earned + Adjustments - Recouped - Withheld;
}

/// <summary>What a run finds for one payee.</summary>
public sealed record PayeeStanding
{
    public required Payee Payee { get; init; }
    /// <summary>What earlier runs carried forward, in the payout currency.</summary>
    public long Opening { get; init; }
    /// <summary>Entries cleared by the as-of date and in no earlier run, one sum per currency.</summary>
    public IReadOnlyCollection<Money> Cleared { get; init; } = [];
    /// <summary>Adjustments dated on or before the as-of date and not yet taken.</summary>
    public IReadOnlyCollection<Money> Adjustments { get; init; } = [];
    /// <summary>What earlier runs recouped of each advance, by advance id.</summary>
    public IReadOnlyDictionary<string, long> RecoupedBefore { get; init; } = new Dictionary<string, long>();
    /// <summary>Payments of the payee in runs of the as-of date's calendar year.</summary>
    public int PaymentsThisYear { get; init; }
}
