using System.Globalization;
using EvenSplit.Books.Backups;
using EvenSplit.Books.Model;
using EvenSplit.Books.Payouts;
using EvenSplit.Core;
using EvenSplit.Formats.Payments;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.PayRuns;

/// <summary>What must be in an account before a run is issued.</summary>
/// <param name="Account">The account's last four; null where payments of the method leave from none, or it is not known yet.</param>
public sealed record Funding(PayoutMethod Method, Currency Currency, string? Account, int Payments, long Sum);

/// <summary>
/// Issues an approved run: per method and currency one file. References, files and states are written in one transaction, so that after a crash or a
/// double click either all is issued or nothing; laying the files where the bank fetches them is done again until it is done, with the same names and
/// the same contents.
/// </summary>
public sealed class IssueRun(BookDbContext db, BookCache cache, BookClock clock, BookPlace place, Sealed @sealed, Invoices invoices, PaymentDoubts doubts, RestoredBook restored, SelfBills selfBills, AuditLog audit) : IUseCase
{
    /// <summary>What is to be paid in a run that was not sent yet, per method, currency and account.</summary>
    public IReadOnlyList<Funding> FundingOf(int id)
    {
        var accounts = db.PayingAccounts.AsNoTracking().ToDictionary(a => a.Currency);
        return [.. db.Remittances.AsNoTracking().Where(r => r.RunId == id && r.Paid > 0 && r.State == RemittanceState.Ready)
            .GroupBy(r => new { r.Method, r.Currency }).Select(g => new { g.Key.Method, g.Key.Currency, Count = g.Select(r => r.Through ?? r.Payee).Distinct().Count(), Sum = g.Sum(r => r.Paid) }).AsEnumerable()
            .OrderBy(f => f.Method).ThenBy(f => f.Currency, StringComparer.Ordinal)
            .Select(f => new Funding(f.Method, Currency.Of(f.Currency), f.Method == PayoutMethod.StoreCredit ? null : accounts.GetValueOrDefault(f.Currency) is { } a ? $"{a.Iban[..2]}…{a.Iban[^4..]}" : null, f.Count, f.Sum))];
    }

    public IReadOnlyList<PaymentFileRecord> FilesOf(int id) => db.PaymentFiles.AsNoTracking().Where(f => f.RunId == id).OrderBy(f => f.Id).ToArray();

    /// <summary>A file as it was issued.</summary>
    public (string Name, string Content)? File(int run, int id) =>
        db.PaymentFiles.AsNoTracking().FirstOrDefault(f => f.RunId == run && f.Id == id) is { } file ? (file.FileName, @sealed.OpenText(file.Protected)) : null;

    /// <returns>How many payments were sent; those that are paid by hand, or have no details, stay to be marked.</returns>
    /// <exception cref="RefusedException">The run is not approved or is issued already, or an account to pay from is not known.</exception>
    public int Issue(int id, string by)
    {
        using var transaction = db.Database.BeginTransaction();
        var run = db.PayRuns.Include(r => r.Remittances).Known(r => r.Id == id);
        if (run.State is not (RunState.Approved or RunState.Issued)) throw new RefusedException(run.State == RunState.Closed ? "This run is closed." : "A run must be approved before it is issued.");
        if (run.IssuedAt is { } at) throw new RefusedException($"This run was issued on {cache.Get(db).Local(at)} already; nothing was sent again.");
        restored.DemandSettled();
        if (doubts.PaidTwiceBy(id) is { } twice) throw new RefusedException(twice);
        var ready = OnePayment.Of(run.Remittances.Where(r => r is { Paid: > 0, State: RemittanceState.Ready }));
        var details = db.PayoutDetails.AsNoTracking().Where(d => db.Remittances.Any(r => r.RunId == id && r.DetailsId == d.Id)).ToDictionary(d => d.Id);
        var noted = invoices.Of(id);
        foreach (var group in ready.Where(p => p.First.Method == PayoutMethod.StoreCredit || p.First.DetailsId is not null).GroupBy(p => (p.First.Method, p.First.Currency)))
        {
            Send(run, group.Key.Method, Currency.Of(group.Key.Currency), [.. group], details, noted, by);
        }
        var byHand = ready.Where(p => p.First.State == RemittanceState.Ready).ToArray();
        foreach (var group in byHand.GroupBy(p => p.First.Currency)) Keep(run, PayoutMethod.ByHand, Currency.Of(group.Key), [.. group], WalletOrder.WriteList(Listed(group, _ => "")), "csv", by);
        selfBills.Write(run);
        (run.State, run.IssuedAt) = (RunState.Issued, clock.GetUtcNow());
        audit.Note(by, "issue", PayRunSteps.Name(run));
        db.SaveChanges();
        transaction.Commit();
        return ready.Count - byHand.Length;
    }

    private void Send(PayRunRecord run, PayoutMethod method, Currency currency, OnePayment[] payments, Dictionary<int, PayoutDetailsRecord> details, ILookup<string, NotedInvoice> noted, string by)
    {
        // Remittances of approved runs are never deleted, so their keys are never used again.
        string Reference(OnePayment p) => string.Create(CultureInfo.InvariantCulture, $"{Prefix}-{run.AsOf:yyMMdd}-{p.First.Id}");
        string Note(OnePayment p)
        {
            var numbers = p.Remittances.SelectMany(r => noted[r.Payee]).Select(i => i.Number).Distinct().ToArray();
            return $"{cache.Get(db).Record.Name}, run as of {run.AsOf.InWords()}{(numbers.Length == 0 ? "" : $", {(numbers.Length == 1 ? "invoice" : "invoices")} {string.Join(", ", numbers)}")}{(p.Remittances.Count == 1 ? "" : $", for {MoneyWords.Count(p.Remittances.Count, "payee")}")}";
        }
        var content = method switch
        {
            PayoutMethod.Bank => new PaymentOrder(
                MessageId(run, method, currency), clock.GetUtcNow(), cache.Get(db).Record.Name, From(currency),
                [.. payments.Select(p => new OrderedPayment(Reference(p), @sealed.Account(details[p.First.DetailsId!.Value]), p.Amount, Note(p), p.ExecuteOn is { } on && on > clock.Today ? on : clock.Today))]).Write(),
            PayoutMethod.Wallet => WalletOrder.Write(payments.Select(p => new WalletPayment(@sealed.Recipient(details[p.First.DetailsId!.Value]), p.Amount, Reference(p), Note(p)))),
            _ => WalletOrder.Write(Listed(payments, Reference)),
        };
        var file = Keep(run, method, currency, payments, content, method == PayoutMethod.Bank ? "xml" : "csv", by);
        foreach (var payment in payments)
        {
            foreach (var remittance in payment.Remittances)
            {
                (remittance.EndToEnd, remittance.FileId) = (Reference(payment), file.Id);
                // Credit in one's own shop is given by giving it.
                if (method == PayoutMethod.StoreCredit) (remittance.State, remittance.PaidOn, remittance.Reference) = (RemittanceState.Confirmed, clock.Today, remittance.EndToEnd);
                else remittance.State = RemittanceState.Sent;
            }
        }
    }

    private PaymentFileRecord Keep(PayRunRecord run, PayoutMethod method, Currency currency, OnePayment[] payments, string content, string extension, string by)
    {
        var messageId = MessageId(run, method, currency);
        var file = new PaymentFileRecord
        {
            RunId = run.Id,
            Method = method,
            Currency = currency.Code,
            MessageId = messageId,
            FileName = $"{messageId}.{extension}",
            Protected = @sealed.CloseText(content),
            Payments = payments.Length,
            Sum = payments.Sum(p => p.Amount.Minor),
            MadeAt = clock.GetUtcNow(),
            MadeBy = by,
        };
        db.PaymentFiles.Add(file);
        db.SaveChanges();
        return file;
    }

    /// <summary>With the mark of a book that came back: what it issued after the backup was made, and does not know, was named otherwise.</summary>
    private string Prefix => cache.Get(db).Record.Mark is { Length: > 0 } mark ? $"ES-{mark}" : "ES";

    /// <summary>A run is issued once, and has one file per method and currency.</summary>
    private string MessageId(PayRunRecord run, PayoutMethod method, Currency currency) =>
        string.Create(CultureInfo.InvariantCulture, $"{Prefix}-{run.AsOf:yyMMdd}-{run.Id}-{method switch { PayoutMethod.Bank => "BANK", PayoutMethod.Wallet => "WALLET", PayoutMethod.StoreCredit => "CREDIT", _ => "HAND" }}-{currency.Code}");

    private BankAccount From(Currency currency) => db.PayingAccounts.AsNoTracking().FirstOrDefault(a => a.Currency == currency.Code) is { } account
        ? new BankAccount(account.Holder, account.Iban, account.Bic)
        : throw new RefusedException($"Payments in {currency.Code} have no account to leave from; name one under Schedules and accounts.");

    private IEnumerable<WalletPayment> Listed(IEnumerable<OnePayment> payments, Func<OnePayment, string> reference)
    {
        var book = cache.Get(db);
        return payments.Select(p => new WalletPayment(book.PayeeName(p.To), p.Amount, reference(p), ""));
    }

    /// <summary>Lays files where the bank and the wallet fetch them that are not there yet; each whole or not at all, the same again after a stop.</summary>
    /// <returns>How many.</returns>
    public int Deliver()
    {
        var waiting = db.PaymentFiles.Where(f => f.DeliveredAt == null && (f.Method == PayoutMethod.Bank || f.Method == PayoutMethod.Wallet)).OrderBy(f => f.Id).ToArray();
        foreach (var file in waiting)
        {
            var folder = Path.Combine(file.Method == PayoutMethod.Bank ? place.Bank : place.Wallet, "in");
            Directory.CreateDirectory(folder);
            var whole = Path.Combine(folder, file.FileName);
            System.IO.File.WriteAllText(whole + ".part", @sealed.OpenText(file.Protected));
            System.IO.File.Move(whole + ".part", whole, overwrite: true);
            file.DeliveredAt = clock.GetUtcNow();
            db.SaveChanges();
        }
        return waiting.Length;
    }
}
