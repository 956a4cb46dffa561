namespace EvenSplit.Books.Reconcile;

/// <summary>What a line of the bank is held against, by kind and name: <c>remittance:REFERENCE</c>, <c>payout:SETTLEMENT</c>.</summary>
internal static class OursName
{
    public const string Remittance = "remittance:";
    public const string Payout = "payout:";

    /// <summary>The name without its kind.</summary>
    public static string Of(string ours) => ours[(ours.IndexOf(':', StringComparison.Ordinal) + 1)..];
}
