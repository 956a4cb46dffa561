using System.Xml.Linq;
using EvenSplit.Formats.Csv;

namespace EvenSplit.Formats.Payments;

/// <summary>Payment files with the accounts made unreadable, for those who may see what was paid but not to which account.</summary>
public static class MaskedPayments
{
    /// <summary>A payment order (pain.001) with each account as its country and last four characters.</summary>
    /// <exception cref="PaymentMessageException">It is not sound XML.</exception>
    public static string Order(string xml)
    {
        var root = SafeXml.Read(xml);
        foreach (var account in root.Descendants().Where(e => e.Name.LocalName == "IBAN")) account.Value = Account(account.Value);
        return new XDocument(new XDeclaration("1.0", "utf-8", null), root).ToString();
    }

    /// <summary>A wallet's payments with each recipient as their first and last characters.</summary>
    public static string Wallet(string csv)
    {
        using var text = new StringReader(csv);
        using var rows = new CsvHelper.CsvReader(text, System.Globalization.CultureInfo.InvariantCulture);
        rows.Read();
        rows.ReadHeader();
        var masked = new List<string[]>();
        while (rows.Read()) masked.Add([Recipient(rows.GetField(0)!), .. rows.Parser.Record!.Skip(1)]);
        using var written = new StringWriter();
        CsvOutput.Write(written, rows.HeaderRecord!, masked);
        return written.ToString();
    }

    /// <summary>As accounts are shown ever after: the country and the last four characters.</summary>
    public static string Account(string iban) => $"{iban[..2]}…{iban[^4..]}";

    /// <summary>As wallets are shown ever after: the first character, and the provider of an address or the last four characters.</summary>
    public static string Recipient(string recipient) =>
        recipient.IndexOf('@', StringComparison.Ordinal) is > 0 and var at ? $"{recipient[0]}…{recipient[at..]}" : $"{recipient[0]}…{recipient[^4..]}";
}
