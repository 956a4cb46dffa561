using EvenSplit.Books.Forms;
using EvenSplit.Books.Model;
using EvenSplit.Formats.Payments;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Payouts;

/// <summary>The seller's own accounts, one per currency, that payments leave from.</summary>
public sealed class PayingAccounts(BookDbContext db, AuditLog audit) : IUseCase
{
    public IReadOnlyList<PayingAccountRecord> List() => db.PayingAccounts.AsNoTracking().OrderBy(a => a.Currency).ToArray();

    /// <returns>The fields at fault; none where it is kept, in the place of one of the same currency.</returns>
    public IReadOnlyList<FieldFault> Save(string currency, string holder, string iban, string bic, string by)
    {
        var fields = new FieldReader();
        var known = fields.Currency("AccountCurrency", currency, "Choose the account's currency.");
        var name = fields.Required("AccountHolder", holder, "Give the name the account is in.");
        if (!Iban.TryParse(iban, out var number, out var wrongIban)) fields.Refuse("AccountIban", wrongIban);
        if (!Bic.TryParse(bic, out var code, out var wrongBic)) fields.Refuse("AccountBic", wrongBic);
        if (fields.Faults.Count > 0) return fields.Faults;
        var account = db.PayingAccounts.SingleOrDefault(a => a.Currency == known.Code);
        if (account is null) db.PayingAccounts.Add(new PayingAccountRecord { Currency = known.Code, Holder = name, Iban = number, Bic = code });
        else (account.Holder, account.Iban, account.Bic) = (name, number, code);
        audit.Note(by, "set the account to pay from", $"{known}: {number[..2]}…{number[^4..]}");
        db.SaveChanges();
        return [];
    }
}
