using EvenSplit.Books.Model;
using EvenSplit.Books.Payouts;
using EvenSplit.Core;
using EvenSplit.Formats.Payments;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Backups;

/// <summary>
/// Takes up, in a book that came back from a backup, a payment file it had issued after that backup: its payments count as sent again, under the references they went
/// out with, so that what the bank says of them is understood and none is sent a second time.
/// </summary>
public sealed class FilesTakenUp(BookDbContext db, BookClock clock, Sealed @sealed, RestoredBook restored, AuditLog audit) : IUseCase
{
    /// <returns>How many payments are taken up.</returns>
    /// <exception cref="RefusedException">The book did not come back from a backup, the file is known or cannot be read, or a payment of it has no counterpart in one approved run: then nothing of it is taken.</exception>
    public int Take(string fileName, string text, string by)
    {
        if (restored.From is null) throw new RefusedException("Only a book that came back from a backup takes up files that it does not know.", "Issued");
        IssuedFile file;
        try
        {
            file = IssuedFile.Read(fileName, text);
        }
        catch (PaymentMessageException unreadable)
        {
            throw new RefusedException(unreadable.Message, "Issued");
        }
        if (file.Payments.Count == 0) throw new RefusedException("There is no payment in this file.", "Issued");
        if (db.PaymentFiles.Any(f => f.MessageId == file.MessageId)) throw new RefusedException($"The book knows {file.MessageId} already.", "Issued");
        using var transaction = db.BeginUnlessBegun();
        var ready = OnePayment.Of(db.PayRuns.Where(r => r.State == RunState.Approved || r.State == RunState.Issued).SelectMany(r => r.Remittances).Where(r => r.State == RemittanceState.Ready && r.Paid > 0));
        var details = db.PayoutDetails.AsNoTracking().ToDictionary(d => d.Id);
        var taken = new List<(OnePayment Payment, string Reference)>();
        var without = new List<string>();
        foreach (var payment in file.Payments)
        {
            if (ready.Find(p => Matches(p, payment, file.IsOfBank, details)) is not { } found)
            {
                without.Add($"{payment.Reference}, {payment.Amount.InWords()}");
                continue;
            }
            ready.Remove(found);
            taken.Add((found, payment.Reference));
        }
        if (without.Count > 0) throw new RefusedException($"No approved run has these payments: {string.Join("; ", without.Take(5))}{(without.Count > 5 ? $"; and {without.Count - 5} more" : "")}. Gather, lock and approve that run again first; what came out otherwise is marked by hand.", "Issued");
        if (taken.Select(t => (t.Payment.First.RunId, t.Payment.First.Currency)).Distinct().Count() > 1) throw new RefusedException("The payments of this file belong to several runs: the book has issued no such file.", "Issued");
        var kept = Keep(file, fileName, text, [.. taken.Select(t => t.Payment)], by);
        foreach (var (payment, reference) in taken)
        {
            foreach (var remittance in payment.Remittances) (remittance.State, remittance.EndToEnd, remittance.FileId) = (RemittanceState.Sent, reference, kept.Id);
        }
        audit.Note(by, "take up an issued payment file", $"{file.MessageId}: {MoneyWords.Count(taken.Count, "payment")}");
        db.SaveChanges();
        transaction?.Commit();
        return taken.Count;
    }

    private PaymentFileRecord Keep(IssuedFile file, string fileName, string text, OnePayment[] taken, string by)
    {
        var kept = new PaymentFileRecord
        {
            RunId = taken[0].First.RunId,
            Method = file.IsOfBank ? PayoutMethod.Bank : PayoutMethod.Wallet,
            Currency = taken[0].First.Currency,
            MessageId = file.MessageId,
            FileName = Path.GetFileName(fileName),
            Protected = @sealed.CloseText(text),
            Payments = taken.Length,
            Sum = taken.Sum(p => p.Amount.Minor),
            MadeAt = clock.GetUtcNow(),
            MadeBy = by,
            // It lay there before.
            DeliveredAt = clock.GetUtcNow(),
        };
        db.PaymentFiles.Add(kept);
        db.SaveChanges();
        return kept;
    }

    private bool Matches(OnePayment ready, IssuedPayment payment, bool isOfBank, Dictionary<int, PayoutDetailsRecord> details)
    {
        if (ready.Amount != payment.Amount || ready.First.DetailsId is not { } id || !details.TryGetValue(id, out var known)) return false;
        if (ready.First.Method != (isOfBank ? PayoutMethod.Bank : PayoutMethod.Wallet)) return false;
        return (isOfBank ? @sealed.Account(known).Iban : @sealed.Recipient(known)) == payment.To;
    }
}
