using EvenSplit.Core;
using EvenSplit.Formats.Csv;

namespace EvenSplit.Formats.Payments;

/// <summary>One payment to a wallet.</summary>
public sealed record WalletPayment(string Recipient, Money Amount, string Reference, string Note);

/// <summary>Payments to wallets as CSV: recipient, amount, currency, reference, note. Store credit and lists for paying by hand look the same, but for a list being read in a spreadsheet.</summary>
public static class WalletOrder
{
    private static readonly string[] Header = ["recipient", "amount", "currency", "reference", "note"];

    /// <summary>A file that a machine pays by: exact.</summary>
    public static string Write(IEnumerable<WalletPayment> payments)
    {
        using var text = new StringWriter();
        CsvOutput.WriteExact(text, Header, Rows(payments));
        return text.ToString();
    }

    /// <summary>A list that somebody pays by hand.</summary>
    public static string WriteList(IEnumerable<WalletPayment> payments)
    {
        using var text = new StringWriter();
        CsvOutput.Write(text, Header, Rows(payments));
        return text.ToString();
    }

    private static IEnumerable<IReadOnlyList<string>> Rows(IEnumerable<WalletPayment> payments) =>
        payments.Select(p => (IReadOnlyList<string>)[p.Recipient, p.Amount.ToMajorText(), p.Amount.Currency.Code, p.Reference, p.Note]);
}
