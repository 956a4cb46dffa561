using System.Globalization;
using System.Xml.Linq;

namespace EvenSplit.StandIns.Bank;

/// <summary>The bank's side of the messages: reads payment orders (pain.001), writes status reports (pain.002) and statements (camt.053).</summary>
public static class BankMessages
{
    private static readonly XNamespace Pain1 = "urn:iso:std:iso:20022:tech:xsd:pain.001.001.03";
    private static readonly XNamespace Pain2 = "urn:iso:std:iso:20022:tech:xsd:pain.002.001.03";
    private static readonly XNamespace Camt = "urn:iso:std:iso:20022:tech:xsd:camt.053.001.02";

    /// <exception cref="FormatException">The sums of the order do not agree with its transfers.</exception>
    public static (string Message, DateOnly CreatedOn, IReadOnlyList<Transfer> Transfers) ReadOrder(string xml)
    {
        var order = XDocument.Parse(xml).Root!.Element(Pain1 + "CstmrCdtTrfInitn")!;
        var header = order.Element(Pain1 + "GrpHdr")!;
        var message = header.Element(Pain1 + "MsgId")!.Value;
        var transfers = order.Elements(Pain1 + "PmtInf").SelectMany(info => info.Elements(Pain1 + "CdtTrfTxInf").Select(t =>
        {
            var amount = t.Element(Pain1 + "Amt")!.Element(Pain1 + "InstdAmt")!;
            return new Transfer
            {
                Message = message,
                Reference = t.Element(Pain1 + "PmtId")!.Element(Pain1 + "EndToEndId")!.Value,
                Account = Iban(t.Element(Pain1 + "CdtrAcct")!),
                FromAccount = Iban(info.Element(Pain1 + "DbtrAcct")!),
                Holder = t.Element(Pain1 + "Cdtr")!.Element(Pain1 + "Nm")!.Value,
                Amount = decimal.Parse(amount.Value, CultureInfo.InvariantCulture),
                Currency = amount.Attribute("Ccy")!.Value,
                ExecuteOn = DateOnly.ParseExact(info.Element(Pain1 + "ReqdExctnDt")!.Value, "yyyy-MM-dd", CultureInfo.InvariantCulture),
            };
        })).ToArray();
        if (transfers.Length != int.Parse(header.Element(Pain1 + "NbOfTxs")!.Value, CultureInfo.InvariantCulture) || transfers.Sum(t => t.Amount) != decimal.Parse(header.Element(Pain1 + "CtrlSum")!.Value, CultureInfo.InvariantCulture))
        {
            throw new FormatException($"The control sums of {message} do not agree with its transfers.");
        }
        return (message, DateOnly.ParseExact(header.Element(Pain1 + "CreDtTm")!.Value[..10], "yyyy-MM-dd", CultureInfo.InvariantCulture), transfers);

        static string Iban(XElement account) => account.Element(Pain1 + "Id")!.Element(Pain1 + "IBAN")!.Value;
    }

    public static string StatusReport(string message, DateOnly on, IReadOnlyCollection<Transfer> transfers) => new XDocument(
        new XElement(Pain2 + "Document", new XElement(
            Pain2 + "CstmrPmtStsRpt",
            new XElement(Pain2 + "GrpHdr", new XElement(Pain2 + "MsgId", $"STS-{message}"), new XElement(Pain2 + "CreDtTm", $"{Date(on)}T18:00:00Z")),
            new XElement(Pain2 + "OrgnlGrpInfAndSts", new XElement(Pain2 + "OrgnlMsgId", message), new XElement(Pain2 + "OrgnlMsgNmId", "pain.001.001.03"), new XElement(Pain2 + "GrpSts", transfers.Any(t => t.State == TransferState.Refused) ? "PART" : "ACSC")),
            new XElement(
                Pain2 + "OrgnlPmtInfAndSts",
                new XElement(Pain2 + "OrgnlPmtInfId", message),
                transfers.Select(t => new XElement(
                    Pain2 + "TxInfAndSts",
                    new XElement(Pain2 + "OrgnlEndToEndId", t.Reference),
                    new XElement(Pain2 + "TxSts", t.State == TransferState.Refused ? "RJCT" : "ACSC"),
                    t.State == TransferState.Refused ? Why(Pain2, "StsRsnInf", t) : null)))))).ToString();

    /// <summary>The statement of one account for a day: what left it, and what came back.</summary>
    public static string Statement(string id, string account, string currency, DateOnly on, decimal opening, IReadOnlyCollection<Transfer> left, IReadOnlyCollection<Transfer> back, IReadOnlyCollection<Credit> other) => new XDocument(
        new XElement(Camt + "Document", new XElement(
            Camt + "BkToCstmrStmt",
            new XElement(Camt + "GrpHdr", new XElement(Camt + "MsgId", id), new XElement(Camt + "CreDtTm", $"{Date(on)}T23:00:00Z")),
            new XElement(
                Camt + "Stmt",
                new XElement(Camt + "Id", id),
                new XElement(Camt + "CreDtTm", $"{Date(on)}T23:00:00Z"),
                new XElement(Camt + "Acct", new XElement(Camt + "Id", new XElement(Camt + "IBAN", account)), new XElement(Camt + "Ccy", currency)),
                Balance("OPBD", opening, currency, on),
                Balance("CLBD", opening - left.Sum(t => t.Amount) + back.Sum(t => t.Amount) + other.Sum(c => c.Amount), currency, on),
                currency == Rules.BookedTogether ? left.GroupBy(t => t.Message).Select(f => Together(f.Key, [.. f], on)) : left.Select(t => Entry(t, "DBIT", on)),
                back.Select(t => Entry(t, "CRDT", on)),
                other.Select((c, i) => Other(c, $"{id}-{i + 1}", currency)))))).ToString();

    /// <summary>A file's payments booked as one: the bank names the file, not each payment.</summary>
    private static XElement Together(string message, Transfer[] transfers, DateOnly on) => new(
        Camt + "Ntry",
        Amount(transfers.Sum(t => t.Amount), transfers[0].Currency),
        new XElement(Camt + "CdtDbtInd", "DBIT"),
        new XElement(Camt + "Sts", "BOOK"),
        new XElement(Camt + "BookgDt", new XElement(Camt + "Dt", Date(on))),
        new XElement(Camt + "NtryDtls", new XElement(Camt + "Btch", new XElement(Camt + "MsgId", message), new XElement(Camt + "NbOfTxs", transfers.Length))));

    private static XElement Other(Credit credit, string reference, string currency) => new(
        Camt + "Ntry",
        new XElement(Camt + "NtryRef", reference),
        Amount(Math.Abs(credit.Amount), currency),
        new XElement(Camt + "CdtDbtInd", credit.Amount < 0 ? "DBIT" : "CRDT"),
        new XElement(Camt + "Sts", "BOOK"),
        new XElement(Camt + "BookgDt", new XElement(Camt + "Dt", Date(credit.On))),
        new XElement(Camt + "AddtlNtryInf", credit.Note));

    private static XElement Balance(string code, decimal amount, string currency, DateOnly on) => new(
        Camt + "Bal",
        new XElement(Camt + "Tp", new XElement(Camt + "CdOrPrtry", new XElement(Camt + "Cd", code))),
        Amount(Math.Abs(amount), currency),
        new XElement(Camt + "CdtDbtInd", amount < 0 ? "DBIT" : "CRDT"),
        new XElement(Camt + "Dt", new XElement(Camt + "Dt", Date(on))));

    private static XElement Entry(Transfer transfer, string direction, DateOnly on) => new(
        Camt + "Ntry",
        Amount(transfer.Amount, transfer.Currency),
        new XElement(Camt + "CdtDbtInd", direction),
        new XElement(Camt + "Sts", "BOOK"),
        new XElement(Camt + "BookgDt", new XElement(Camt + "Dt", Date(on))),
        new XElement(Camt + "NtryDtls", new XElement(
            Camt + "TxDtls",
            new XElement(Camt + "Refs", new XElement(Camt + "EndToEndId", transfer.Reference)),
            direction == "CRDT" ? Why(Camt, "RtrInf", transfer) : null)));

    private static XElement Why(XNamespace names, string element, Transfer transfer) =>
        new(names + element, new XElement(names + "Rsn", new XElement(names + "Cd", transfer.Code)), new XElement(names + "AddtlInf", transfer.Reason));

    private static XElement Amount(decimal amount, string currency) => new(Camt + "Amt", new XAttribute("Ccy", currency), amount.ToString(CultureInfo.InvariantCulture));

    private static string Date(DateOnly date) => date.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);
}
