using EvenSplit.Books.Model;
using EvenSplit.Core;
using EvenSplit.Formats.Payments;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.PayRuns;

/// <summary>
/// Reads what banks and wallets say about payments: status reports, statements, results. The same message twice, or two messages that say the same, have
/// no second effect; what came back is owed again at once.
/// </summary>
public sealed class PaymentResults(BookDbContext db, BookCache cache, BookClock clock, BookPlace place, OwedAgain owed, AuditLog audit) : IUseCase
{
    public const int MostBytes = 32 * 1024 * 1024;

    /// <summary>Who reads what is fetched from the folders.</summary>
    private const string Fetcher = "fetched";

    private const string RefusedFolder = "refused", FaultEnding = ".fault";

    public IReadOnlyList<PaymentMessageRecord> Latest() => db.PaymentMessages.AsNoTracking().OrderByDescending(m => m.Id).Take(50).ToArray();

    /// <exception cref="RefusedException">It cannot be read, was read before, or says another amount than was sent; nothing of it is taken.</exception>
    public PaymentMessageRecord Read(string fileName, string text, string by)
    {
        var (record, isNew) = ReadOnce(fileName, text, by);
        return isNew ? record : throw new RefusedException($"This {record.Kind} was read already, by {record.ReadBy}; it has no second effect.", "File");
    }

    private (PaymentMessageRecord Record, bool IsNew) ReadOnce(string fileName, string text, string by)
    {
        PaymentMessage message;
        try
        {
            message = PaymentMessage.Read(fileName, text, cache.Get(db).Time);
        }
        catch (PaymentMessageException fault)
        {
            throw new RefusedException(fault.Message, "File");
        }
        using var transaction = db.Database.BeginTransaction();
        if (db.PaymentMessages.AsNoTracking().FirstOrDefault(m => m.Kind == message.Kind && m.MessageId == message.MessageId) is { } known) return (known, false);
        var references = message.Results.Select(r => r.Reference).Distinct().ToArray();
        var remittances = db.Remittances.Where(r => references.Contains(r.EndToEnd!)).ToDictionary(r => r.EndToEnd!);
        var runs = db.PayRuns.Where(r => db.Remittances.Any(m => m.RunId == r.Id && references.Contains(m.EndToEnd!))).ToDictionary(r => r.Id);
        var record = new PaymentMessageRecord { Kind = message.Kind, MessageId = message.MessageId, FileName = Path.GetFileName(fileName), ReadAt = clock.GetUtcNow(), ReadBy = by, Unknown = string.Join(' ', references.Where(r => !remittances.ContainsKey(r))) };
        foreach (var result in message.Results)
        {
            if (remittances.TryGetValue(result.Reference, out var remittance)) Take(result, remittance, runs[remittance.RunId], record, by);
        }
        db.PaymentMessages.Add(record);
        audit.Note(by, $"read a {message.Kind}", record.FileName);
        db.SaveChanges();
        transaction.Commit();
        return (record, true);
    }

    private void Take(PaymentResult result, RemittanceRecord remittance, PayRunRecord run, PaymentMessageRecord record, string by)
    {
        var sent = new Money(remittance.Paid, Currency.Of(remittance.Currency));
        if (result.Amount is { } amount && amount != sent) throw new RefusedException($"{result.Reference} was sent as {sent.InWords()}, and the message says {amount.InWords()}; nothing of it was taken.", "File");
        switch (result.Outcome)
        {
            case PaymentOutcome.Confirmed when remittance.State == RemittanceState.Sent:
                (remittance.State, remittance.PaidOn, remittance.Reference) = (RemittanceState.Confirmed, result.On ?? clock.Today, remittance.EndToEnd);
                record.Confirmed++;
                break;
            case PaymentOutcome.Refused when remittance.State == RemittanceState.Sent:
                CameBack(RemittanceState.Refused, result, remittance, run, by);
                record.Refused++;
                break;
            case PaymentOutcome.Returned when remittance.State is RemittanceState.Sent or RemittanceState.Confirmed:
                CameBack(RemittanceState.Returned, result, remittance, run, by);
                record.Returned++;
                break;
            default: break; // Known already.
        }
    }

    private void CameBack(RemittanceState state, PaymentResult result, RemittanceRecord remittance, PayRunRecord run, string by)
    {
        (remittance.State, remittance.Why) = (state, result.Reason.Length > 0 ? result.Reason : "no reason given");
        owed.Post(remittance, run, by);
        if (remittance.DetailsId is { } details) db.PayoutDetails.Where(d => d.Id == details).ExecuteUpdate(set => set.SetProperty(d => d.CameBack, true));
    }

    /// <summary>Reads what lies in the folders of the bank and the wallet; what cannot be read goes aside with its fault beside it.</summary>
    /// <returns>How many messages.</returns>
    public int Fetch()
    {
        var count = 0;
        foreach (var folder in new[] { place.Bank, place.Wallet })
        {
            var from = Path.Combine(folder, "out");
            if (!Directory.Exists(from)) continue;
            foreach (var file in Directory.GetFiles(from).Where(f => !f.EndsWith(".part", StringComparison.Ordinal)).Order(StringComparer.Ordinal))
            {
                count++;
                try
                {
                    // One that was read before a stop, and not yet moved, is known.
                    ReadOnce(file, File.ReadAllText(file), Fetcher);
                    Move(file, Path.Combine(folder, "read"));
                }
                catch (RefusedException fault)
                {
                    db.ChangeTracker.Clear();
                    File.WriteAllText(Path.Combine(Directory.CreateDirectory(Path.Combine(folder, RefusedFolder)).FullName, Path.GetFileName(file) + FaultEnding), fault.Message);
                    Move(file, Path.Combine(folder, RefusedFolder));
                }
            }
        }
        return count;
    }

    /// <summary>Files that were fetched and could not be taken, with what is wrong with them.</summary>
    public IReadOnlyList<(string File, string Fault)> PutAside() =>
        [.. new[] { place.Bank, place.Wallet }.Select(f => Path.Combine(f, RefusedFolder)).Where(Directory.Exists).SelectMany(f => Directory.GetFiles(f, "*" + FaultEnding)).Order(StringComparer.Ordinal)
            .Select(f => (Path.GetFileName(f)[..^FaultEnding.Length], File.ReadAllText(f)))];

    private static void Move(string file, string folder) => File.Move(file, Path.Combine(Directory.CreateDirectory(folder).FullName, Path.GetFileName(file)), overwrite: true);
}
