namespace EvenSplit.Core;

/// <summary>What does not agree between what somebody else says and the book (reconcile contract, sections 1 to 4).</summary>
[Flags]
public enum Finding
{
    None = 0,
    NotInBook = 1 << 0,
    SettledTwice = 1 << 1,
    UnpaidInBook = 1 << 2,
    CurrencyDiffers = 1 << 3,
    GrossDiffers = 1 << 4,
    FeeDiffers = 1 << 5,
    NotSettled = 1 << 6,
    DoesNotAddUp = 1 << 7,
    BalanceGap = 1 << 8,
    AmountDiffers = 1 << 9,
    PaidThoughStopped = 1 << 10,
    NotOnStatement = 1 << 11,
    PayoutMissing = 1 << 12,
    Twice = 1 << 13,
    Differs = 1 << 14,
    OnlyTheirs = 1 << 15,
    OnlyOurs = 1 << 16,
}

public static class Findings
{
    private static readonly (Finding Finding, string Code, string Words)[] All =
    [
        (Finding.NotInBook, "not-in-book", "not in the book"),
        (Finding.SettledTwice, "settled-twice", "settled twice"),
        (Finding.UnpaidInBook, "unpaid-in-book", "not paid in the book"),
        (Finding.CurrencyDiffers, "currency-differs", "in another currency"),
        (Finding.GrossDiffers, "gross-differs", "another amount"),
        (Finding.FeeDiffers, "fee-differs", "another fee"),
        (Finding.NotSettled, "not-settled", "late, not settled"),
        (Finding.DoesNotAddUp, "does-not-add-up", "does not add up"),
        (Finding.BalanceGap, "balance-gap", "a gap before it"),
        (Finding.AmountDiffers, "amount-differs", "another amount"),
        (Finding.PaidThoughStopped, "paid-though-stopped", "paid though stopped"),
        (Finding.NotOnStatement, "not-on-statement", "late, on no statement"),
        (Finding.PayoutMissing, "payout-missing", "late payout"),
        (Finding.Twice, "twice", "twice"),
        (Finding.Differs, "differs", "another amount"),
        (Finding.OnlyTheirs, "only-theirs", "only theirs"),
        (Finding.OnlyOurs, "only-ours", "only ours"),
    ];

    /// <summary>The codes of the contract, a space between.</summary>
    public static string Codes(this Finding findings) => string.Join(' ', All.Where(f => findings.HasFlag(f.Finding)).Select(f => f.Code));

    /// <summary>For a reader.</summary>
    public static string InWords(this Finding findings) => string.Join("; ", All.Where(f => findings.HasFlag(f.Finding)).Select(f => f.Words));

    /// <summary>None where no finding has the code.</summary>
    public static Finding OfCode(string code) => Array.Find(All, f => f.Code == code).Finding;

    public static IEnumerable<Finding> Each(this Finding findings) => All.Where(f => findings.HasFlag(f.Finding)).Select(f => f.Finding);
}
