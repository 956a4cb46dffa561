using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using System.Xml.Linq;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;

namespace EvenSplit.Formats.Payments;

public enum PaymentOutcome { Confirmed, Refused, Returned }

/// <summary>What kind of message it is. A statement says what has left and come back to an account; a report and a wallet's results say what their sender means to have done.</summary>
public enum PaymentMessageKind { StatusReport, Statement, WalletResults }

/// <summary>What became of one payment.</summary>
/// <param name="Amount">Null where the message does not say.</param>
/// <param name="On">In the payer's books; null where the message does not say.</param>
/// <param name="Reason">In words; empty for a confirmation.</param>
public sealed record PaymentResult(string Reference, PaymentOutcome Outcome, Money? Amount, DateOnly? On, string Reason);

/// <summary>A message about payments: which, and what became of each.</summary>
/// <param name="MessageId">What the sender calls it; the same message twice has no effect.</param>
public sealed record PaymentMessage(PaymentMessageKind Kind, string MessageId, IReadOnlyList<PaymentResult> Results)
{
    /// <summary>Of a bank's statements: what stands in them.</summary>
    public IReadOnlyList<BankStatement> Statements { get; init; } = [];

    public string KindInWords => Kind switch
    {
        PaymentMessageKind.StatusReport => "payment status report",
        PaymentMessageKind.Statement => "bank statement",
        _ => "wallet results",
    };

    private static readonly CsvColumns WalletColumns = new("wallet results", ["reference", "status"], ["fee", "reason", "on", "amount", "currency"]);

    /// <summary>Recognises a status report (pain.002), a statement (camt.053) or a wallet's results by what is in it.</summary>
    /// <exception cref="PaymentMessageException">None of them, or one that cannot be read.</exception>
    public static PaymentMessage Read(string fileName, string text, BookTime time)
    {
        if (!text.TrimStart('\uFEFF', ' ', '\r', '\n', '\t').StartsWith('<')) return ReadWallet(fileName, text, time);
        var root = SafeXml.Read(text);
        if (root.At("CstmrPmtStsRpt") is { } report) return ReadStatuses(report);
        if (root.At("BkToCstmrStmt") is { } statements) return ReadStatements(statements);
        throw new PaymentMessageException($"<{root.Elements().FirstOrDefault()?.Name.LocalName ?? root.Name.LocalName}> is neither a payment status report (pain.002) nor a bank statement (camt.053).");
    }

    private static PaymentMessage ReadStatuses(XElement report)
    {
        var results = new List<PaymentResult>();
        foreach (var transaction in report.All("OrgnlPmtInfAndSts").SelectMany(i => i.All("TxInfAndSts")))
        {
            var reference = Needed(transaction.TextAt("OrgnlEndToEndId"), "OrgnlEndToEndId");
            switch (transaction.TextAt("TxSts"))
            {
                case "RJCT":
                    results.Add(new PaymentResult(reference, PaymentOutcome.Refused, null, Date(report.TextAt("GrpHdr", "CreDtTm")), BankStatementXml.Reason(transaction.At("StsRsnInf"))));
                    break;
                case "ACSC":
                    results.Add(new PaymentResult(reference, PaymentOutcome.Confirmed, null, Date(transaction.TextAt("AccptncDtTm")) ?? Date(report.TextAt("GrpHdr", "CreDtTm")), ""));
                    break;
                default: break; // On its way: nothing has become of it yet.
            }
        }
        return new PaymentMessage(PaymentMessageKind.StatusReport, Needed(report.TextAt("GrpHdr", "MsgId"), "MsgId"), results);
    }

    /// <summary>What has left the account is paid; what comes in under a payment's reference is that payment, come back.</summary>
    private static PaymentMessage ReadStatements(XElement message)
    {
        var statements = BankStatementXml.Read(message);
        return new PaymentMessage(PaymentMessageKind.Statement, Needed(message.TextAt("GrpHdr", "MsgId"), "MsgId"), OfStatement(statements.SelectMany(s => s.Entries))) { Statements = statements };
    }

    /// <summary>What lines of a statement say of payments.</summary>
    public static IReadOnlyList<PaymentResult> OfStatement(IEnumerable<BookedEntry> entries) =>
    [
        .. entries.Where(e => e.Row.Reference.Length > 0).Select(e => new PaymentResult(
            e.Row.Reference, e.Row.Amount < 0 ? PaymentOutcome.Confirmed : PaymentOutcome.Returned, new Money(Math.Abs(e.Row.Amount), e.Row.Currency), e.Row.On, e.Row.Amount < 0 ? "" : e.Reason)),
    ];

    private static PaymentMessage ReadWallet(string fileName, string text, BookTime time)
    {
        using var file = new MemoryStream(Encoding.UTF8.GetBytes(text));
        try
        {
            using var table = new CsvTable(file, WalletColumns);
            var (results, faults) = (new List<PaymentResult>(), new List<RowFault>());
            foreach (var row in table.Rows())
            {
                var cells = new CellReader(row, time);
                var reference = cells.Required("reference");
                var on = row["on"].Length > 0 ? cells.Date("on") : (DateOnly?)null;
                Money? amount = null;
                if (row["amount"].Length > 0)
                {
                    var currency = cells.Currency("currency");
                    if (cells.OptionalAmount("amount", currency) is { } minor && currency.Code is not null) amount = new Money(minor, currency);
                }
                switch (row["status"].ToLowerInvariant())
                {
                    case "paid": results.Add(new PaymentResult(reference, PaymentOutcome.Confirmed, amount, on, "")); break;
                    case "refused": results.Add(new PaymentResult(reference, PaymentOutcome.Refused, amount, on, row["reason"])); break;
                    case "returned": results.Add(new PaymentResult(reference, PaymentOutcome.Returned, amount, on, row["reason"])); break;
                    default: cells.Refuse("status", "paid, refused or returned"); break;
                }
                faults.AddRange(cells.Faults);
            }
            return faults is [var fault, ..]
                ? throw new PaymentMessageException($"Row {fault.Row}, {fault}. Nothing of the file was taken.")
                : new PaymentMessage(PaymentMessageKind.WalletResults, WalletMessageId(fileName, text), results);
        }
        catch (CsvFileException unreadable)
        {
            throw new PaymentMessageException(unreadable.Message);
        }
    }

    /// <summary>A wallet's file carries no id of its own; what is in it is one.</summary>
    private static string WalletMessageId(string fileName, string text) =>
        $"{Path.GetFileNameWithoutExtension(fileName)}-{Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(text)))[..16]}";

    private static DateOnly? Date(string text) =>
        text.Length >= 10 && DateOnly.TryParseExact(text[..10], "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var date) ? date : null;

    private static string Needed(string text, string element) => text.Length > 0 ? text : throw new PaymentMessageException($"The message has no {element}.");
}
