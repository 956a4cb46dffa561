using EvenSplit.Books.Model;
using EvenSplit.Core;
using EvenSplit.Formats.Payments;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.PayRuns;

/// <summary>
/// Reads what banks and wallets say about payments: status reports, statements, results. The same message twice, or two messages that say the same, have
/// no second effect. What came back is owed again at once where the bank's statement says so, or the message was fetched from where the bank and the wallet lay
/// theirs; of any other that somebody uploads, a second person says first that it is so.
/// </summary>
public sealed class PaymentResults(BookDbContext db, BookCache cache, BookClock clock, BookPlace place, OwedAgain owed, PaymentDoubts doubts, AuditLog audit) : IUseCase
{
    public const int MostBytes = 32 * 1024 * 1024;

    /// <summary>Who reads what is fetched from the folders.</summary>
    private const string Fetcher = "fetched";

    private const string RefusedFolder = "refused", FaultEnding = ".fault";

    public IReadOnlyList<PaymentMessageRecord> Latest() => db.PaymentMessages.AsNoTracking().OrderByDescending(m => m.Id).Take(50).ToArray();

    /// <exception cref="RefusedException">It cannot be read, was read before, says another amount than was sent, or is about payments that went another way; nothing of it is taken.</exception>
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
        var kind = message.KindInWords;
        if (db.PaymentMessages.AsNoTracking().FirstOrDefault(m => m.Kind == kind && m.MessageId == message.MessageId) is { } known) return (known, false);
        var references = message.Results.Select(r => r.Reference).Distinct().ToArray();
        var remittances = db.Remittances.Where(r => references.Contains(r.EndToEnd!)).ToDictionary(r => r.EndToEnd!);
        var runs = db.PayRuns.Where(r => db.Remittances.Any(m => m.RunId == r.Id && references.Contains(m.EndToEnd!))).ToDictionary(r => r.Id);
        var record = new PaymentMessageRecord { Kind = kind, MessageId = message.MessageId, FileName = Path.GetFileName(fileName), ReadAt = clock.GetUtcNow(), ReadBy = by, Unknown = string.Join(' ', references.Where(r => !remittances.ContainsKey(r))) };
        foreach (var result in message.Results)
        {
            if (remittances.TryGetValue(result.Reference, out var remittance)) Take(message.Kind, result, remittance, runs[remittance.RunId], record, by);
        }
        db.PaymentMessages.Add(record);
        audit.Note(by, $"read a {kind}", record.FileName);
        db.SaveChanges();
        transaction.Commit();
        return (record, true);
    }

    private void Take(PaymentMessageKind kind, PaymentResult result, RemittanceRecord remittance, PayRunRecord run, PaymentMessageRecord record, string by)
    {
        if (remittance.Method != (kind == PaymentMessageKind.WalletResults ? PayoutMethod.Wallet : PayoutMethod.Bank))
        {
            throw new RefusedException($"{result.Reference} was sent {(remittance.Method == PayoutMethod.Bank ? "to the bank" : remittance.Method == PayoutMethod.Wallet ? "to a wallet" : "to neither bank nor wallet")}; a {record.Kind} says nothing of it. Nothing of the file was taken.", "File");
        }
        var sent = new Money(remittance.Paid, Currency.Of(remittance.Currency));
        if (result.Amount is { } amount && amount != sent) throw new RefusedException($"{result.Reference} was sent as {sent.InWords()}, and the message says {amount.InWords()}; nothing of it was taken.", "File");
        var isSure = kind == PaymentMessageKind.Statement || by == Fetcher;
        switch (result.Outcome)
        {
            case PaymentOutcome.Confirmed when remittance.State == RemittanceState.Sent:
                (remittance.State, remittance.PaidOn, remittance.Reference) = (RemittanceState.Confirmed, result.On ?? clock.Today, remittance.EndToEnd);
                record.Confirmed++;
                break;
            case PaymentOutcome.Confirmed when remittance.State == RemittanceState.Refused && !isSure:
                throw new RefusedException($"{result.Reference} was refused, and is owed again. That it was paid all the same is shown by the bank's statement, or by what lies in the wallet's own folder; nothing of the file was taken.", "File");
            case PaymentOutcome.Confirmed when remittance.State == RemittanceState.Refused:
                doubts.PaidThoughRefused(remittance, run, result.On ?? clock.Today, record.FileName, by);
                record.Confirmed++;
                break;
            case PaymentOutcome.Refused when remittance.State == RemittanceState.Sent && isSure:
                owed.CameBack(remittance, RemittanceState.Refused, result.Reason, result.On, by);
                record.Refused++;
                break;
            case PaymentOutcome.Refused when remittance.State == RemittanceState.Sent:
                if (doubts.Raise(PaymentDoubtKind.Refused, remittance, result.Reason, record.FileName, by)) record.Doubted++;
                break;
            case PaymentOutcome.Returned when remittance.State is RemittanceState.Sent or RemittanceState.Confirmed && isSure:
                owed.CameBack(remittance, RemittanceState.Returned, result.Reason, result.On, by);
                record.Returned++;
                break;
            case PaymentOutcome.Returned when remittance.State is RemittanceState.Sent or RemittanceState.Confirmed:
                if (doubts.Raise(PaymentDoubtKind.Returned, remittance, result.Reason, record.FileName, by)) record.Doubted++;
                break;
            default: break; // Known already, or the bank's own books say otherwise.
        }
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
                catch (Exception fault) when (fault is RefusedException or IOException or UnauthorizedAccessException)
                {
                    // One that cannot be taken, or not even opened, must not keep the others from being read.
                    db.ChangeTracker.Clear();
                    PutAside(file, folder, fault.Message);
                }
            }
        }
        return count;
    }

    /// <summary>Files that were fetched and could not be taken, with what is wrong with them.</summary>
    public IReadOnlyList<(string File, string Fault)> PutAside() =>
        [.. new[] { place.Bank, place.Wallet }.Select(f => Path.Combine(f, RefusedFolder)).Where(Directory.Exists).SelectMany(f => Directory.GetFiles(f, "*" + FaultEnding)).Order(StringComparer.Ordinal)
            .Select(f => (Path.GetFileName(f)[..^FaultEnding.Length], File.ReadAllText(f)))];

    private static void PutAside(string file, string folder, string fault)
    {
        var aside = Path.Combine(folder, RefusedFolder);
        File.WriteAllText(Path.Combine(Directory.CreateDirectory(aside).FullName, Path.GetFileName(file) + FaultEnding), fault);
        try
        {
            Move(file, aside);
        }
        catch (Exception stuck) when (stuck is IOException or UnauthorizedAccessException)
        {
            // It stays where it lies, is tried again, and is listed with its fault.
        }
    }

    private static void Move(string file, string folder) => File.Move(file, Path.Combine(Directory.CreateDirectory(folder).FullName, Path.GetFileName(file)), overwrite: true);
}
