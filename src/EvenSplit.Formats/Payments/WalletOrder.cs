using EvenSplit.Core;
using EvenSplit.Formats.Csv;

namespace EvenSplit.Formats.Payments;

/// <summary>One payment to a wallet.</summary>
public sealed record WalletPayment(string Recipient, Money Amount, string Reference, string Note);

/// <summary>Payments to wallets as CSV: recipient, amount, currency, reference, note. Store credit and lists for paying by hand look the same.</summary>
public static class WalletOrder
{
    public static string Write(IEnumerable<WalletPayment> payments)
    {
        using var text = new StringWriter();
        CsvOutput.Write(text, ["recipient", "amount", "currency", "reference", "note"], payments.Select(p => (IReadOnlyList<string>)[p.Recipient, p.Amount.ToMajorText(), p.Amount.Currency.Code, p.Reference, p.Note]));
        return text.ToString();
    }
}
