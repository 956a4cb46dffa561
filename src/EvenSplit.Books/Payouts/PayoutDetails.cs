using System.Text.RegularExpressions;
using EvenSplit.Books.Forms;
using EvenSplit.Books.Mail;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using EvenSplit.Formats.Payments;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Payouts;

/// <summary>Payout details as typed.</summary>
public sealed record PayoutDetailsDraft
{
    public PayoutMethod Method { get; init; } = PayoutMethod.Bank;
    public string Holder { get; init; } = "";
    public string Iban { get; init; } = "";
    public string Bic { get; init; } = "";
    /// <summary>For a wallet: the address or number payments to it are sent to.</summary>
    public string Recipient { get; init; } = "";
    /// <summary>The id of the payee they are paid through, where that is the method.</summary>
    public string Through { get; init; } = "";
}

/// <summary>
/// Where payees' money goes. That is how payouts are stolen, so: a change needs a second person and waits two days, and the details themselves
/// are never shown again.
/// </summary>
public sealed partial class PayoutDetails(BookDbContext db, BookCache cache, BookClock clock, Sealed @sealed, Destinations destinations, FourEyes fourEyes, DetailMails mails, AuditLog audit) : IUseCase
{
    public const int DaysToWait = 2;

    private const int LongestRecipient = 120;

    public IReadOnlyList<PayoutDetailsRecord> Of(string payee) => db.PayoutDetails.AsNoTracking().Where(d => d.Payee == payee).OrderByDescending(d => d.Id).ToArray();

    /// <summary>Every proposal that waits for its second person.</summary>
    public IReadOnlyList<PayoutDetailsRecord> Waiting() => db.PayoutDetails.AsNoTracking().Where(d => d.ConfirmedBy == null && d.RefusedBy == null).OrderBy(d => d.Id).ToArray();

    /// <returns>The fields at fault; none where it is proposed.</returns>
    public IReadOnlyList<FieldFault> Propose(string payee, PayoutDetailsDraft draft, string by)
    {
        if (cache.Get(db).Rules.FindPayee(new PayeeId(payee)) is not { } known) throw new RefusedException($"There is no payee {payee}.");
        if (Faults(payee, draft, known.PayoutCurrency.Code) is { Count: > 0 } faults) return faults;
        using var transaction = db.Database.BeginTransaction();
        Enter(payee, draft, known.PayoutCurrency.Code, by);
        transaction.Commit();
        mails.Tell(payee, $"details-{db.PayoutDetails.Where(d => d.Payee == payee).Max(d => d.Id)}", $"your payments are to go to {Masked(draft, known.PayoutCurrency.Code)}, as {by} asked on {clock.Today.InWords()}. A second person has to confirm it; it can be used {DaysToWait} days after that at the earliest.");
        return [];
    }

    /// <param name="payee">Whose they are; null for somebody who is not in the book yet.</param>
    /// <param name="currency">In which the payee is paid: it decides whether the bank has to be named.</param>
    internal IReadOnlyList<FieldFault> Faults(string? payee, PayoutDetailsDraft draft, string currency)
    {
        var fields = new FieldReader();
        if (draft.Method is not (PayoutMethod.Bank or PayoutMethod.Wallet or PayoutMethod.Through)) fields.Refuse("Method", "Only a bank account, a wallet or another payee can be where money goes.");
        else _ = Read(draft, currency, fields);
        if (draft.Method == PayoutMethod.Through && fields.Faults.Count == 0)
        {
            if (draft.Through == payee) fields.Refuse("Through", "Nobody is paid through themself.");
            else if (destinations.GoesThroughAnother(draft.Through)) fields.Refuse("Through", $"{cache.Get(db).PayeeName(draft.Through)} is paid through another payee; choose that one.");
            else if (payee is not null && destinations.IsPaidThrough(payee)) fields.Refuse("Through", "Others are paid through this payee, who has to have an account or a wallet.");
        }
        return fields.Faults;
    }

    /// <summary>As details are shown ever after.</summary>
    internal string Masked(PayoutDetailsDraft draft, string currency) => Read(draft, currency, new FieldReader()).Shown;

    /// <summary>Whether a payee's latest details that were not refused look the same.</summary>
    internal bool IsHeld(string payee, PayoutDetailsDraft draft, string currency) => db.PayoutDetails.Where(d => d.Payee == payee && d.RefusedBy == null).OrderByDescending(d => d.Id).Select(d => d.Shown).FirstOrDefault() == Masked(draft, currency);

    /// <summary>Takes a proposal back.</summary>
    internal void Withdraw(int id, string by)
    {
        var details = Open(id);
        details.RefusedBy = by;
        audit.Note(by, "take back payout details", $"{details.Payee}: {details.Shown}");
    }

    private (Action<PayoutDetailsRecord> Seal, string Shown) Read(PayoutDetailsDraft draft, string currency, FieldReader fields) =>
        draft.Method switch { PayoutMethod.Wallet => ReadWallet(draft, fields), PayoutMethod.Through => ReadThrough(draft, currency, fields), _ => ReadAccount(draft, currency, fields) };

    /// <summary>Proposes details that are known to be sound, within the caller's transaction.</summary>
    internal void Enter(string payee, PayoutDetailsDraft draft, string currency, string by)
    {
        var (seal, shown) = Read(draft, currency, new FieldReader());
        foreach (var waiting in db.PayoutDetails.Where(d => d.Payee == payee && d.ConfirmedBy == null && d.RefusedBy == null)) waiting.RefusedBy = by;
        var details = new PayoutDetailsRecord { Payee = payee, Method = draft.Method, Protected = [], Shown = shown, ProposedBy = by, ProposedAt = clock.GetUtcNow() };
        db.PayoutDetails.Add(details);
        audit.Note(by, "propose payout details", $"{payee}: {shown}");
        db.SaveChanges();
        // Sealed for its row, whose id is known from here on.
        seal(details);
        db.SaveChanges();
    }

    private (Action<PayoutDetailsRecord> Seal, string Shown) ReadAccount(PayoutDetailsDraft draft, string currency, FieldReader fields)
    {
        var holder = fields.Required("Holder", draft.Holder, "Give the name the account is in.");
        if (!Iban.TryParse(draft.Iban, out var iban, out var wrongIban)) fields.Refuse("Iban", wrongIban);
        var bic = "";
        if (draft.Bic.Trim().Length > 0 || Bic.IsNeeded(iban, currency))
        {
            if (!Bic.TryParse(draft.Bic, out bic, out var wrongBic)) fields.Refuse("Bic", draft.Bic.Trim().Length > 0 ? wrongBic : $"A payment in {currency} to that country has to name the bank: give its BIC.");
        }
        return fields.Faults.Count > 0 ? (_ => { }, "") : (d => @sealed.Close(d, new BankAccount(holder.Trim(), iban, bic)), MaskedPayments.Account(iban));
    }

    private (Action<PayoutDetailsRecord> Seal, string Shown) ReadWallet(PayoutDetailsDraft draft, FieldReader fields)
    {
        var recipient = fields.Required("Recipient", draft.Recipient, "Give the address or number of the wallet.").Trim();
        if (recipient.Length is < 5 or > LongestRecipient) fields.Refuse("Recipient", $"A wallet's address has 5 to {LongestRecipient} characters.");
        else if (!WalletRecipient().IsMatch(recipient)) fields.Refuse("Recipient", "A wallet's address is an e-mail address, a telephone number or a name: letters, digits and . _ % + - @ only, without spaces.");
        return fields.Faults.Count > 0 ? (_ => { }, "") : (d => @sealed.Close(d, recipient), MaskedPayments.Recipient(recipient));
    }

    private (Action<PayoutDetailsRecord> Seal, string Shown) ReadThrough(PayoutDetailsDraft draft, string currency, FieldReader fields)
    {
        var book = cache.Get(db);
        if (draft.Through.Length == 0 || book.Rules.FindPayee(new PayeeId(draft.Through)) is not { } other) fields.Refuse("Through", "Choose the payee with whose payment theirs goes out.");
        else if (other.PayoutCurrency.Code != currency) fields.Refuse("Through", $"{book.PayeeName(draft.Through)} is paid in {other.PayoutCurrency}, and this payee in {currency}: one payment has one currency.");
        return fields.Faults.Count > 0 ? (_ => { }, "") : (d => @sealed.Close(d, draft.Through), $"through {book.PayeeName(draft.Through)}");
    }

    /// <exception cref="RefusedException">It is dealt with already, or whoever proposed it confirms.</exception>
    public void Confirm(int id, string by)
    {
        using var transaction = db.Database.BeginTransaction();
        var details = Open(id);
        fourEyes.Demand("these details", "confirm them", by, details.ProposedBy);
        (details.ConfirmedBy, details.UsableFrom) = (by, clock.Today.AddDays(DaysToWait));
        db.Payees.Known(p => p.Id == details.Payee).Method = details.Method;
        audit.Note(by, "confirm payout details", $"{details.Payee}: {details.Shown}, from {details.UsableFrom:yyyy-MM-dd}");
        db.SaveChanges();
        transaction.Commit();
        mails.Tell(details.Payee, $"details-{id}-confirmed", $"from {details.UsableFrom.Value.InWords()} your payments go to {details.Shown}: it was confirmed on {clock.Today.InWords()}.");
    }

    /// <exception cref="RefusedException">It is dealt with already.</exception>
    public void Refuse(int id, string by)
    {
        using var transaction = db.Database.BeginTransaction();
        var details = Open(id);
        details.RefusedBy = by;
        audit.Note(by, "refuse payout details", $"{details.Payee}: {details.Shown}");
        db.SaveChanges();
        transaction.Commit();
    }

    /// <summary>Says that details to which a payment came back are right after all.</summary>
    public void SayRight(int id, string by)
    {
        var details = db.PayoutDetails.Known(d => d.Id == id);
        details.CameBack = false;
        audit.Note(by, "say payout details are right", $"{details.Payee}: {details.Shown}");
        db.SaveChanges();
    }

    private PayoutDetailsRecord Open(int id) => db.PayoutDetails.SingleOrDefault(d => d.Id == id) switch
    {
        null => throw new RefusedException("There are no such details."),
        { ConfirmedBy: not null } => throw new RefusedException("These details are confirmed already."),
        { RefusedBy: not null } => throw new RefusedException("These details are refused, or others have taken their place."),
        var open => open,
    };

    /// <summary>What a file of payments can carry to any machine.</summary>
    [GeneratedRegex(@"^[+@A-Za-z0-9][A-Za-z0-9._%+@-]*$")]
    private static partial Regex WalletRecipient();
}
