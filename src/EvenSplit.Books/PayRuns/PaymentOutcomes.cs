using EvenSplit.Books.Model;
using EvenSplit.Core;
using EvenSplit.Formats.Payments;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.PayRuns;

/// <summary>
/// Does what a message says became of payments. What came back is owed again at once where the message is sure; of any other a second person says first
/// that it is so.
/// </summary>
public sealed class PaymentOutcomes(BookDbContext db, BookCache cache, BookClock clock, OwedAgain owed, PaymentDoubts doubts) : IUseCase
{
    /// <summary>Adds the record of the message; the caller saves.</summary>
    /// <exception cref="RefusedException">It says another amount than was sent, or is about payments that went another way.</exception>
    internal PaymentMessageRecord Apply(PaymentMessage message, string fileName, string by, bool isSure)
    {
        var book = cache.Get(db);
        // What a closed month would have had is of today.
        var results = message.Results.SelectMany(OfFile).Select(r => r.On is { } on ? r with { On = book.OpenDay(on, clock.Today) } : r).ToArray();
        var references = results.Select(r => r.Reference).Distinct().ToArray();
        var remittances = db.Remittances.Where(r => references.Contains(r.EndToEnd!)).OrderBy(r => r.Id).ToLookup(r => r.EndToEnd!);
        var runs = db.PayRuns.Where(r => db.Remittances.Any(m => m.RunId == r.Id && references.Contains(m.EndToEnd!))).ToDictionary(r => r.Id);
        // A credit on a statement may be anything; what left under a reference was a payment. One that was marked paid by hand is of the book too.
        var markedPaid = db.Remittances.Where(r => r.EndToEnd == null && references.Contains(r.Reference!)).Select(r => r.Reference!).ToHashSet();
        var unknown = results.Where(r => !remittances.Contains(r.Reference) && !markedPaid.Contains(r.Reference) && (message.Kind != PaymentMessageKind.Statement || r.Outcome == PaymentOutcome.Confirmed)).Select(r => r.Reference).Distinct();
        var record = new PaymentMessageRecord { Kind = message.KindInWords, MessageId = message.MessageId, FileName = Path.GetFileName(fileName), ReadAt = clock.GetUtcNow(), ReadBy = by, Unknown = string.Join(' ', unknown) };
        foreach (var result in results)
        {
            if (remittances.Contains(result.Reference)) Take(message.Kind, result, [.. remittances[result.Reference]], runs[remittances[result.Reference].First().RunId], record, by, isSure);
        }
        db.PaymentMessages.Add(record);
        return record;
    }

    /// <summary>A debit of a whole file is one of each payment in it that was not stopped.</summary>
    private IEnumerable<PaymentResult> OfFile(PaymentResult result)
    {
        if (result.Outcome != PaymentOutcome.Confirmed || db.PaymentFiles.AsNoTracking().Where(f => f.MessageId == result.Reference).Select(f => (int?)f.Id).FirstOrDefault() is not { } file) return [result];
        var sent = db.Remittances.AsNoTracking().Where(r => r.FileId == file && (r.State == RemittanceState.Sent || r.State == RemittanceState.Confirmed)).ToArray();
        return sent.Length > 0 && result.Amount is { } amount && amount.Minor == sent.Sum(r => r.Paid) && amount.Currency.Code == sent[0].Currency
            ? sent.GroupBy(r => r.EndToEnd!).Select(p => result with { Reference = p.Key, Amount = new Money(p.Sum(r => r.Paid), amount.Currency) })
            : [];
    }

    /// <param name="payment">The remittances that went out as one payment.</param>
    private void Take(PaymentMessageKind kind, PaymentResult result, RemittanceRecord[] payment, PayRunRecord run, PaymentMessageRecord record, string by, bool isSure)
    {
        var remittance = payment[0];
        if (kind == PaymentMessageKind.Statement && remittance.Method != PayoutMethod.Bank) return;
        if (remittance.Method != (kind == PaymentMessageKind.WalletResults ? PayoutMethod.Wallet : PayoutMethod.Bank))
        {
            throw new RefusedException($"{result.Reference} was sent {(remittance.Method == PayoutMethod.Bank ? "to the bank" : remittance.Method == PayoutMethod.Wallet ? "to a wallet" : "to neither bank nor wallet")}; a {record.Kind} says nothing of it. Nothing of the file was taken.", "File");
        }
        var sent = new Money(payment.Sum(r => r.Paid), Currency.Of(remittance.Currency));
        // On a statement another amount is a finding of the bench; the payment waits for what is right.
        if (result.Amount is { } booked && booked != sent && kind == PaymentMessageKind.Statement) return;
        if (result.Amount is { } amount && amount != sent) throw new RefusedException($"{result.Reference} was sent as {sent.InWords()}, and the message says {amount.InWords()}; nothing of it was taken.", "File");
        foreach (var one in payment) TakeOne(result, one, run, record, one == remittance ? 1 : 0, by, isSure);
    }

    /// <param name="count">1 for the first remittance of a payment, which counts once.</param>
    private void TakeOne(PaymentResult result, RemittanceRecord remittance, PayRunRecord run, PaymentMessageRecord record, int count, string by, bool isSure)
    {
        switch (result.Outcome)
        {
            case PaymentOutcome.Confirmed when remittance.State == RemittanceState.Sent:
                (remittance.State, remittance.PaidOn, remittance.Reference) = (RemittanceState.Confirmed, result.On ?? clock.Today, remittance.EndToEnd);
                record.Confirmed += count;
                break;
            case PaymentOutcome.Confirmed when remittance.State == RemittanceState.Refused && !isSure:
                throw new RefusedException($"{result.Reference} was refused, and is owed again. That it was paid all the same is shown by the bank's statement, or by what lies in the wallet's own folder; nothing of the file was taken.", "File");
            case PaymentOutcome.Confirmed when remittance.State == RemittanceState.Refused:
                doubts.PaidThoughRefused(remittance, run, result.On ?? clock.Today, record.FileName, by);
                record.Confirmed += count;
                break;
            case PaymentOutcome.Refused when remittance.State == RemittanceState.Sent && isSure:
                owed.CameBack(remittance, RemittanceState.Refused, result.Reason, result.On, by);
                record.Refused += count;
                break;
            case PaymentOutcome.Refused when remittance.State == RemittanceState.Sent:
                if (doubts.Raise(PaymentDoubtKind.Refused, remittance, result.Reason, record.FileName, by)) record.Doubted += count;
                break;
            case PaymentOutcome.Returned when remittance.State is RemittanceState.Sent or RemittanceState.Confirmed && isSure:
                owed.CameBack(remittance, RemittanceState.Returned, result.Reason, result.On, by);
                record.Returned += count;
                break;
            case PaymentOutcome.Returned when remittance.State is RemittanceState.Sent or RemittanceState.Confirmed:
                if (doubts.Raise(PaymentDoubtKind.Returned, remittance, result.Reason, record.FileName, by)) record.Doubted += count;
                break;
            default: break; // Known already, or the bank's own books say otherwise.
        }
    }
}
