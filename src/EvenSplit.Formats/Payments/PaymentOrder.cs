using System.Globalization;
using System.Text;
using System.Xml.Linq;
using EvenSplit.Core;

namespace EvenSplit.Formats.Payments;

/// <summary>One payment of an order.</summary>
/// <param name="Reference">The end-to-end reference: at most 35 characters, never used again.</param>
/// <param name="Note">What the payee reads on their statement.</param>
/// <param name="ExecuteOn">In the book's zone.</param>
public sealed record OrderedPayment(string Reference, BankAccount To, Money Amount, string Note, DateOnly ExecuteOn);

/// <summary>
/// An ISO 20022 customer credit transfer initiation, pain.001.001.03: payments of one currency from one account, one batch for each day of execution.
/// </summary>
/// <param name="MessageId">At most 32 characters, never used again.</param>
public sealed record PaymentOrder(string MessageId, DateTimeOffset CreatedAt, string Initiator, BankAccount From, IReadOnlyList<OrderedPayment> Payments)
{
    private const int MostText = 140;
    private const int MostName = 70;

    private static readonly XNamespace Pain = "urn:iso:std:iso:20022:tech:xsd:pain.001.001.03";

    /// <summary>The order as XML in UTF-8.</summary>
    public string Write()
    {
        var document = new XDocument(
            new XDeclaration("1.0", "UTF-8", null),
            new XElement(Pain + "Document", new XElement(
                Pain + "CstmrCdtTrfInitn",
                new XElement(
                    Pain + "GrpHdr",
                    new XElement(Pain + "MsgId", MessageId),
                    new XElement(Pain + "CreDtTm", CreatedAt.UtcDateTime.ToString("yyyy-MM-ddTHH:mm:ss'Z'", CultureInfo.InvariantCulture)),
                    Control(Payments),
                    new XElement(Pain + "InitgPty", Name(Initiator))),
                Payments.GroupBy(p => p.ExecuteOn).OrderBy(g => g.Key).Select((day, i) => Batch(i == 0 ? MessageId : string.Create(CultureInfo.InvariantCulture, $"{MessageId}-{i + 1}"), day.Key, [.. day])))));
        var text = new StringBuilder();
        using (var writer = new Utf8Writer(text)) document.Save(writer);
        return text.ToString();
    }

    private static XElement[] Control(IReadOnlyList<OrderedPayment> payments) =>
    [
        new(Pain + "NbOfTxs", payments.Count.ToString(CultureInfo.InvariantCulture)),
        new(Pain + "CtrlSum", new Money(payments.Sum(p => p.Amount.Minor), payments[0].Amount.Currency).ToMajorText()),
    ];

    private XElement Batch(string id, DateOnly on, IReadOnlyList<OrderedPayment> payments) => new(
        Pain + "PmtInf",
        new XElement(Pain + "PmtInfId", id),
        new XElement(Pain + "PmtMtd", "TRF"),
        new XElement(Pain + "BtchBookg", "false"),
        Control(payments),
        new XElement(Pain + "ReqdExctnDt", on.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture)),
        new XElement(Pain + "Dbtr", Name(From.Holder)),
        new XElement(Pain + "DbtrAcct", Account(From), new XElement(Pain + "Ccy", payments[0].Amount.Currency.Code)),
        new XElement(Pain + "DbtrAgt", Agent(From)),
        new XElement(Pain + "ChrgBr", "SLEV"),
        payments.Select(Transfer));

    private static XElement Transfer(OrderedPayment payment) => new(
        Pain + "CdtTrfTxInf",
        new XElement(Pain + "PmtId", new XElement(Pain + "InstrId", payment.Reference), new XElement(Pain + "EndToEndId", payment.Reference)),
        new XElement(Pain + "Amt", new XElement(Pain + "InstdAmt", new XAttribute("Ccy", payment.Amount.Currency.Code), payment.Amount.ToMajorText())),
        // Left out where the IBAN alone leads there.
        payment.To.Bic.Length == 0 ? null : new XElement(Pain + "CdtrAgt", Agent(payment.To)),
        new XElement(Pain + "Cdtr", Name(payment.To.Holder)),
        new XElement(Pain + "CdtrAcct", Account(payment.To)),
        new XElement(Pain + "RmtInf", new XElement(Pain + "Ustrd", Plain(payment.Note, MostText))));

    private static XElement Name(string name) => new(Pain + "Nm", Plain(name, MostName));

    private static XElement Account(BankAccount account) => new(Pain + "Id", new XElement(Pain + "IBAN", account.Iban));

    private static XElement Agent(BankAccount account) => new(Pain + "FinInstnId", new XElement(Pain + "BIC", account.Bic));

    /// <summary>Banks take letters without accents and a few signs; what is beyond is written with its nearest letter.</summary>
    private static string Plain(string text, int most)
    {
        var plain = new StringBuilder(text.Length);
        foreach (var c in text.Replace("&", "+", StringComparison.Ordinal).Replace('’', '\'').Normalize(NormalizationForm.FormD))
        {
            if (CharUnicodeInfo.GetUnicodeCategory(c) == UnicodeCategory.NonSpacingMark) continue;
            plain.Append(char.IsAsciiLetterOrDigit(c) || "/-?:().,'+ ".Contains(c, StringComparison.Ordinal) ? c : '.');
        }
        return plain.Length <= most ? plain.ToString() : plain.ToString(0, most);
    }

    private sealed class Utf8Writer(StringBuilder text) : StringWriter(text, CultureInfo.InvariantCulture)
    {
        public override Encoding Encoding => Encoding.UTF8;
    }
}
