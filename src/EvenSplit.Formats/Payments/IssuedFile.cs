using EvenSplit.Core;
using EvenSplit.Formats.Csv;

namespace EvenSplit.Formats.Payments;

/// <summary>A payment as a file that was issued names it.</summary>
/// <param name="To">The IBAN of the account, or the wallet's recipient.</param>
public sealed record IssuedPayment(string Reference, string To, Money Amount);

/// <summary>A file of payments that was issued, read back in: a payment order (pain.001) or a wallet's CSV.</summary>
/// <param name="MessageId">Of a wallet's file the name, which is all it has.</param>
public sealed record IssuedFile(bool IsOfBank, string MessageId, IReadOnlyList<IssuedPayment> Payments)
{
    private static readonly CsvColumns WalletColumns = new("wallet payments", ["recipient", "amount", "currency", "reference"], ["note"]);

    /// <exception cref="PaymentMessageException">Neither of them, or one that cannot be read.</exception>
    public static IssuedFile Read(string fileName, string text)
    {
        if (!text.TrimStart('\uFEFF', ' ', '\r', '\n', '\t').StartsWith('<')) return ReadWallet(fileName, text);
        if (SafeXml.Read(text).At("CstmrCdtTrfInitn") is not { } order) throw new PaymentMessageException("This is no payment order (pain.001).");
        return new IssuedFile(true, order.TextAt("GrpHdr", "MsgId"), [.. order.All("PmtInf").SelectMany(i => i.All("CdtTrfTxInf")).Select(t => new IssuedPayment(
            t.TextAt("PmtId", "EndToEndId"), t.TextAt("CdtrAcct", "Id", "IBAN"), Amount(t.TextAt("Amt", "InstdAmt"), t.At("Amt", "InstdAmt")?.Attribute("Ccy")?.Value ?? "")))]);
    }

    private static IssuedFile ReadWallet(string fileName, string text)
    {
        try
        {
            using var table = new CsvTable(new MemoryStream(System.Text.Encoding.UTF8.GetBytes(text)), WalletColumns);
            return new IssuedFile(false, Path.GetFileNameWithoutExtension(fileName), [.. table.Rows().Select(r => new IssuedPayment(r["reference"], r["recipient"], Amount(r["amount"], r["currency"])))]);
        }
        catch (CsvFileException unreadable)
        {
            throw new PaymentMessageException(unreadable.Message);
        }
    }

    private static Money Amount(string text, string currency) => Currency.TryOf(currency, out var known) && Money.TryParseMajor(text, known, out var amount, out _)
        ? amount
        : throw new PaymentMessageException($"'{text} {currency}' is no amount.");
}
