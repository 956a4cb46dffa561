using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using EvenSplit.Books.Model;
using EvenSplit.Formats.Payments;
using Microsoft.AspNetCore.DataProtection;

namespace EvenSplit.Books.Payouts;

/// <summary>Keeps account numbers and the files they stand in encrypted with the book's keys. Payout details open only for the payee and the row they were sealed for.</summary>
public sealed class Sealed(IDataProtectionProvider protection) : IUseCase
{
    private const string Purpose = "EvenSplit.Payments";

    private readonly IDataProtector _files = protection.CreateProtector(Purpose);

    /// <summary>Seals what <see cref="PayoutDetailsDraft"/> says for a row that has its id.</summary>
    internal void Close(PayoutDetailsRecord details, BankAccount account) => Bind(details, JsonSerializer.SerializeToUtf8Bytes(account));

    internal void Close(PayoutDetailsRecord details, string recipient) => Bind(details, Encoding.UTF8.GetBytes(recipient));

    /// <exception cref="RefusedException">It was sealed for another payee or row, or with other keys.</exception>
    internal BankAccount Account(PayoutDetailsRecord details) => JsonSerializer.Deserialize<BankAccount>(Open(details))!;

    /// <exception cref="RefusedException">It was sealed for another payee or row, or with other keys.</exception>
    internal string Recipient(PayoutDetailsRecord details) => Encoding.UTF8.GetString(Open(details));

    internal byte[] CloseText(string text) => _files.Protect(Encoding.UTF8.GetBytes(text));

    internal string OpenText(byte[] content) => Encoding.UTF8.GetString(_files.Unprotect(content));

    internal byte[] CloseFile(byte[] content) => _files.Protect(content);

    internal byte[] OpenFile(byte[] content) => _files.Unprotect(content);

    /// <summary>Binds details to their payee and row that were sealed before that was done.</summary>
    internal void BindOld(BookDbContext db)
    {
        foreach (var old in db.PayoutDetails.Where(d => !d.IsBound).ToArray()) Bind(old, _files.Unprotect(old.Protected));
        db.SaveChanges();
    }

    private void Bind(PayoutDetailsRecord details, byte[] content) => (details.Protected, details.IsBound) = (For(details).Protect(content), true);

    private byte[] Open(PayoutDetailsRecord details)
    {
        try
        {
            return For(details).Unprotect(details.Protected);
        }
        catch (CryptographicException)
        {
            throw new RefusedException($"The payout details {details.Shown} of {details.Payee} do not open: they were sealed for somebody else, or with other keys. Nothing was sent; have the payee give them again.");
        }
    }

    private IDataProtector For(PayoutDetailsRecord details) =>
        protection.CreateProtector(Purpose, "details", details.Payee, details.Id.ToString(CultureInfo.InvariantCulture));
}
