namespace EvenSplit.StandIns.Bank;

/// <summary>Where the bank and the wallet fetch orders (in), and leave answers (out).</summary>
/// <param name="Today">The date the bank's own clock begins with.</param>
public sealed record BankSettings(string Bank, string Wallet, DateOnly Today)
{
    public static BankSettings Of(IConfiguration configuration, DateOnly today) => new(
        Path.GetFullPath(configuration["bank"] ?? throw new InvalidOperationException("The bank needs --bank.")),
        Path.GetFullPath(configuration["wallet"] ?? throw new InvalidOperationException("The wallet needs --wallet.")),
        today);
}

public enum TransferState { Waiting, Executed, Refused, Returned }

/// <summary>A transfer as it was ordered. The amount in major units, as written.</summary>
public sealed record Transfer
{
    public required string Message { get; init; }
    public required string Reference { get; init; }
    public required string Account { get; init; }
    public required string FromAccount { get; init; }
    public required string Holder { get; init; }
    public required decimal Amount { get; init; }
    public required string Currency { get; init; }
    public required DateOnly ExecuteOn { get; init; }
    public TransferState State { get; set; }
    public DateOnly? ExecutedOn { get; set; }
    public DateOnly? ReturnedOn { get; set; }
    /// <summary>An ISO 20022 reason code.</summary>
    public string Code { get; set; } = "";
    public string Reason { get; set; } = "";
}

/// <summary>Money from elsewhere on its way to the seller's euro account, in major units.</summary>
public sealed record Credit(DateOnly On, decimal Amount, string Note);

/// <summary>All the bank knows.</summary>
public sealed class BankState(BankSettings settings) : KeptFile<BankState.Kept>(Path.Combine(settings.Bank, "bank.json"), new Kept { Today = settings.Today })
{
    /// <summary>What stands in the file.</summary>
    public sealed class Kept
    {
        public DateOnly Today { get; set; }
        public List<Transfer> Transfers { get; init; } = [];
        public List<Credit> Credits { get; init; } = [];
        /// <summary>Message ids taken: an order that comes twice is executed once.</summary>
        public List<string> Taken { get; init; } = [];
        public int Statements { get; set; }
        /// <summary>By account, the balance at the end of the last statement.</summary>
        public Dictionary<string, decimal> Balances { get; init; } = [];
    }
}
