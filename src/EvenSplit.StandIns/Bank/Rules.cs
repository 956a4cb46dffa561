namespace EvenSplit.StandIns.Bank;

/// <summary>What goes wrong, and how one makes it go wrong: by how the account's number or the wallet's address ends.</summary>
public static class Rules
{
    public const decimal Limit = 1000m;
    public const int DaysUntilReturned = 2;
    public const decimal MonthlyCharge = 9.50m;
    /// <summary>Payments in this currency are booked as one debit a file.</summary>
    public const string BookedTogether = "USD";

    /// <returns>A reason to refuse; null where the transfer is executed.</returns>
    public static (string Code, string Reason)? Refusal(Transfer transfer) => Ending(transfer.Account) switch
    {
        "01" => ("AC04", "The account is closed"),
        "02" => ("BE01", "The name is not that of the account"),
        "03" when transfer.Amount > Limit => ("AM02", "Above the limit of the account"),
        _ => null,
    };

    public static bool ComesBack(Transfer transfer) => Ending(transfer.Account) == "04";

    /// <summary>Wallets refuse and return by the last word before the dot of their address.</summary>
    public static string? WalletFault(string recipient, out bool comesBack)
    {
        comesBack = recipient.Contains("@returns.", StringComparison.OrdinalIgnoreCase);
        return recipient.Contains("@closed.", StringComparison.OrdinalIgnoreCase) ? "The wallet is closed" : null;
    }

    private static string Ending(string account) => account.Length < 2 ? "" : account[^2..];
}
