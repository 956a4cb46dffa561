namespace EvenSplit.Books.Proofs;

/// <summary>A check of the proof: two figures that are found in different ways and have to be the same.</summary>
/// <param name="Check">What is checked, in the words of the file.</param>
/// <param name="Payee">Whose figures they are; empty where they are the whole book's.</param>
/// <param name="Currency">Empty where the figures are counts.</param>
public sealed record ProofLine(string Check, string Payee, string Currency, long Left, long Right)
{
    public bool Holds => Left == Right;
}

/// <summary>What a payee had, earned, gave back and was taken by runs over a month, in one currency of entries (reconcile contract, section 6).</summary>
public sealed record EarningsChain(string Payee, string Currency, long Opening, long Earned, long Reversed, long Taken, long Closing)
{
    /// <summary>What the closing has to be.</summary>
    public long Comes => Opening + Earned + Reversed - Taken;
}

/// <summary>What a payee carried into the runs of a month and out of them, in the payout currency.</summary>
public sealed record CarriedChain(string Payee, string Currency, long Opening, long Earned, long Adjustments, long Recouped, long Withheld, long Fees, long Paid, long Closing)
{
    public long Comes => Opening + Earned + Adjustments - Recouped - Withheld - Fees - Paid;
}

/// <summary>What the checks are called in the file, and what they are in words.</summary>
public static class ProofChecks
{
    public const string Earnings = "earnings", Carried = "carried", Opening = "opening", Sums = "kept-sums", WorkedOut = "worked-out", Charged = "charged", RunFiles = "run-files", RunOutcome = "run-outcome", Journal = "journal";
    public const string Clearing = "clearing", Bank = "bank", TakenOnce = "taken-once", References = "references";

    /// <summary>By check: its name, what stands on the left, and what on the right.</summary>
    public static IReadOnlyDictionary<string, (string Name, string Left, string Right)> Words { get; } = new Dictionary<string, (string, string, string)>
    {
        [Earnings] = ("What payees have earned and no run has taken", "opening + earned − reversed − taken", "closing, as it is kept"),
        [Carried] = ("What runs carried", "opening + earned + adjustments − recouped − withheld − fees − paid", "closing, as the last run carried it"),
        [Opening] = ("Opening is the closing of the month before", "opening", "as the month before was closed"),
        [Sums] = ("Kept sums are the sums of entries", "kept", "entries added up"),
        [WorkedOut] = ("Entries are what all orders come to", "posted", "worked out anew"),
        [Charged] = ("Orders’ parts are what was charged", "charged and rebates", "tax, fees, earnings and the house’s"),
        [RunFiles] = ("Payment files are what runs pay", "payments that went in files", "files"),
        [RunOutcome] = ("Payments are known to the last", "control sum", "confirmed, on their way, to be paid, and what came back"),
        [Journal] = ("The journal balances", "debits", "credits"),
        [Clearing] = ("Clearing is what the bench of processors shows open", "clearing in the journal", "not settled yet, and open differences"),
        [Bank] = ("Bank accounts are their last statements", "bank in the journal", "last balance, less what is open"),
        [TakenOnce] = ("Every entry is open or in one run", "entries", "open, or taken"),
        [References] = ("No payment reference twice", "references", "different ones"),
    };
}
