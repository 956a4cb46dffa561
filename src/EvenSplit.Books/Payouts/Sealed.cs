using System.Text;
using System.Text.Json;
using Microsoft.AspNetCore.DataProtection;

namespace EvenSplit.Books.Payouts;

/// <summary>Keeps account numbers and the files they stand in encrypted with the book's keys.</summary>
public sealed class Sealed(IDataProtectionProvider protection) : IUseCase
{
    private readonly IDataProtector _protector = protection.CreateProtector("EvenSplit.Payments");

    internal byte[] Close<T>(T content) => _protector.Protect(JsonSerializer.SerializeToUtf8Bytes(content));

    internal T Open<T>(byte[] content) => JsonSerializer.Deserialize<T>(_protector.Unprotect(content))!;

    internal byte[] CloseText(string text) => _protector.Protect(Encoding.UTF8.GetBytes(text));

    internal string OpenText(byte[] content) => Encoding.UTF8.GetString(_protector.Unprotect(content));
}
