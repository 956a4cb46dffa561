using System.Globalization;
using CsvHelper;
using EvenSplit.Formats.Csv;

namespace EvenSplit.StandIns.Bank;

/// <summary>Takes orders from the folders, executes them on the bank's clock, refuses some, and answers.</summary>
public sealed class BankCounter(BankState state, BankSettings settings)
{
    public DateOnly Today => state.Read(k => k.Today);

    public IReadOnlyList<Transfer> Transfers => state.Read(k => k.Transfers.AsEnumerable().Reverse().Take(200).ToArray());

    /// <summary>Takes every order that lies there, the bank's then the wallet's, and executes what is due.</summary>
    public void TakeOrders()
    {
        foreach (var file in Waiting(settings.Bank, "*.xml"))
        {
            var (message, createdOn, transfers) = BankMessages.ReadOrder(File.ReadAllText(file));
            state.Change(kept =>
            {
                // The bank's day is never before that of an order handed to it.
                if (createdOn > kept.Today) kept.Today = createdOn;
                if (!kept.Taken.Contains(message)) kept.Transfers.AddRange(transfers);
                return kept.Taken.Contains(message) ? 0 : Add(kept.Taken, message);
            });
            // What lay to be fetched is nowhere in clear once it was.
            File.Delete(file);
        }
        Execute();
        foreach (var file in Waiting(settings.Wallet, "*.csv"))
        {
            PayWallets(file);
            File.Delete(file);
        }
    }

    /// <summary>Ends the bank's day: writes the statements of what moved, then it is the next day, and what is returned comes back.</summary>
    public void NextDay()
    {
        state.Change(kept =>
        {
            WriteStatements(kept);
            kept.Today = kept.Today.AddDays(1);
            foreach (var transfer in kept.Transfers.Where(t => t is { State: TransferState.Executed } && Rules.ComesBack(t) && t.ExecutedOn!.Value.AddDays(Rules.DaysUntilReturned) <= kept.Today))
            {
                (transfer.State, transfer.ReturnedOn, transfer.Code, transfer.Reason) = (TransferState.Returned, kept.Today, "AC06", "The account is blocked");
            }
            return kept.Today;
        });
        Execute();
    }

    private void Execute() => state.Change(kept =>
    {
        foreach (var message in kept.Transfers.Where(t => t.State == TransferState.Waiting && t.ExecuteOn <= kept.Today).GroupBy(t => t.Message).ToArray())
        {
            foreach (var transfer in message)
            {
                transfer.ExecutedOn = kept.Today;
                if (Rules.Refusal(transfer) is not { } refusal) transfer.State = TransferState.Executed;
                else (transfer.State, transfer.Code, transfer.Reason) = (TransferState.Refused, refusal.Code, refusal.Reason);
            }
            Leave(settings.Bank, $"pain002-{message.Key}.xml", BankMessages.StatusReport(message.Key, kept.Today, message.ToArray()));
        }
        return 0;
    });

    private void WriteStatements(BankState.Kept kept)
    {
        var left = kept.Transfers.Where(t => t.State is TransferState.Executed or TransferState.Returned && t.ExecutedOn == kept.Today).ToArray();
        var back = kept.Transfers.Where(t => t.ReturnedOn == kept.Today).ToArray();
        // What comes in, and what the bank takes for itself at the end of a month, is of the euro account, once it has seen one.
        var euro = kept.Transfers.Where(t => t.Currency == "EUR").Select(t => t.FromAccount).FirstOrDefault();
        var other = euro is null ? [] : kept.Credits.Where(c => c.On == kept.Today).ToList();
        if (euro is not null && kept.Today.AddDays(1).Day == 1) other.Add(new Credit(kept.Today, -Rules.MonthlyCharge, "Account charges"));
        foreach (var (account, currency) in left.Concat(back).Select(t => (t.FromAccount, t.Currency)).Concat(other.Count > 0 ? [(euro!, "EUR")] : []).Distinct().ToArray())
        {
            var (debits, credits) = (left.Where(t => t.FromAccount == account && t.Currency == currency).ToArray(), back.Where(t => t.FromAccount == account && t.Currency == currency).ToArray());
            var beside = account == euro && currency == "EUR" ? other : [];
            var opening = kept.Balances.GetValueOrDefault(account, 50_000m);
            var id = string.Create(CultureInfo.InvariantCulture, $"STMT-{kept.Today:yyyyMMdd}-{++kept.Statements}");
            Leave(settings.Bank, $"camt053-{id}.xml", BankMessages.Statement(id, account, currency, kept.Today, opening, debits, credits, beside));
            kept.Balances[account] = opening - debits.Sum(t => t.Amount) + credits.Sum(t => t.Amount) + beside.Sum(c => c.Amount);
        }
    }

    private void PayWallets(string file)
    {
        using var reader = new CsvReader(new StreamReader(file), CultureInfo.InvariantCulture);
        var rows = new List<string[]>();
        reader.Read();
        reader.ReadHeader();
        while (reader.Read())
        {
            var fault = Rules.WalletFault(reader["recipient"]!.TrimStart('\''), out var comesBack);
            rows.Add([reader["reference"]!, fault is null ? "paid" : "refused", "", fault ?? "", Date(Today), reader["amount"]!, reader["currency"]!]);
            if (fault is null && comesBack) rows.Add([reader["reference"]!, "returned", "", "The wallet was closed since", Date(Today), reader["amount"]!, reader["currency"]!]);
        }
        using var text = new StringWriter();
        CsvOutput.Write(text, ["reference", "status", "fee", "reason", "on", "amount", "currency"], rows);
        Leave(settings.Wallet, $"results-{Path.GetFileName(file)}", text.ToString());
    }

    private static int Add(List<string> taken, string message)
    {
        taken.Add(message);
        return taken.Count;
    }

    private static IEnumerable<string> Waiting(string folder, string pattern)
    {
        var from = Path.Combine(folder, "in");
        return Directory.Exists(from) ? Directory.GetFiles(from, pattern).Order(StringComparer.Ordinal) : [];
    }

    private static void Leave(string folder, string name, string text)
    {
        var whole = Path.Combine(Directory.CreateDirectory(Path.Combine(folder, "out")).FullName, name);
        File.WriteAllText(whole + ".part", text);
        File.Move(whole + ".part", whole, overwrite: true);
    }

    private static string Date(DateOnly date) => date.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);
}

/// <summary>Looks for orders all the time.</summary>
internal sealed class BankHours(BankCounter counter, ILogger<BankHours> log) : BackgroundService
{
    private static readonly TimeSpan Pause = TimeSpan.FromMilliseconds(300);

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        while (!stoppingToken.IsCancellationRequested)
        {
            try
            {
                counter.TakeOrders();
            }
            catch (Exception fault) when (fault is FormatException or System.Xml.XmlException or IOException or NullReferenceException)
            {
                log.LogError(fault, "An order could not be taken");
                await Task.Delay(TimeSpan.FromSeconds(5), stoppingToken);
            }
            await Task.Delay(Pause, stoppingToken);
        }
    }
}
