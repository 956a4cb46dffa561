using System.Text.Json;

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

/// <summary>All the bank knows, kept in one file that is written after every change.</summary>
public sealed class BankState
{
    private static readonly JsonSerializerOptions Json = new() { WriteIndented = true };

    private readonly Lock _lock = new();
    private readonly string _file;
    private readonly Kept _kept;

    public BankState(BankSettings settings)
    {
        Directory.CreateDirectory(settings.Bank);
        _file = Path.Combine(settings.Bank, "bank.json");
        _kept = File.Exists(_file) ? JsonSerializer.Deserialize<Kept>(File.ReadAllText(_file), Json)! : new Kept { Today = settings.Today };
    }

    public T Read<T>(Func<Kept, T> read)
    {
        lock (_lock) return read(_kept);
    }

    public T Change<T>(Func<Kept, T> change)
    {
        lock (_lock)
        {
            var result = change(_kept);
            File.WriteAllText(_file + ".new", JsonSerializer.Serialize(_kept, Json));
            File.Move(_file + ".new", _file, overwrite: true);
            return result;
        }
    }

    /// <summary>What stands in the file.</summary>
    public sealed class Kept
    {
        public DateOnly Today { get; set; }
        public List<Transfer> Transfers { get; init; } = [];
        /// <summary>Message ids taken: an order that comes twice is executed once.</summary>
        public List<string> Taken { get; init; } = [];
        public int Statements { get; set; }
        /// <summary>By account, the balance at the end of the last statement.</summary>
        public Dictionary<string, decimal> Balances { get; init; } = [];
    }
}
