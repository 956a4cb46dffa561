using System.Globalization;
using System.Xml.Linq;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;

namespace EvenSplit.Formats.Payments;

/// <summary>A statement of an account as the bank wrote it; balances in minor units.</summary>
/// <param name="Opening">Null where the bank does not say; likewise the closing.</param>
public sealed record BankStatement(string Id, string Account, Currency Currency, DateOnly? From, DateOnly? To, long? Opening, long? Closing, IReadOnlyList<BookedEntry> Entries);

/// <summary>An entry of a statement.</summary>
/// <param name="Reason">Why a payment came back; empty where the bank gives none.</param>
public sealed record BookedEntry(StatementRow Row, string Reason);

/// <summary>Reads statements in camt.053, versions .02 to .08 (reconcile contract, section 1). What is only pending is passed over.</summary>
public static class BankStatementXml
{
    /// <exception cref="PaymentMessageException">It is none, or an entry cannot be read; says which.</exception>
    public static IReadOnlyList<BankStatement> Read(string text)
    {
        var root = SafeXml.Read(text);
        return Read(root.At("BkToCstmrStmt") ?? throw new PaymentMessageException($"<{root.Elements().FirstOrDefault()?.Name.LocalName ?? root.Name.LocalName}> is no bank statement (camt.053)."));
    }

    internal static IReadOnlyList<BankStatement> Read(XElement message) => [.. message.All("Stmt").Select(Statement)];

    private static BankStatement Statement(XElement statement)
    {
        var id = statement.TextAt("Id") is { Length: > 0 } given ? given : throw new PaymentMessageException("A statement has no Id.");
        var account = StatementRow.Number(statement.TextAt("Acct", "Id", "IBAN") is { Length: > 0 } iban ? iban : statement.TextAt("Acct", "Id", "Othr", "Id"));
        if (account.Length == 0) throw new PaymentMessageException($"The statement {id} does not say of which account it is.");
        var entries = statement.All("Ntry").Where(IsBooked).SelectMany((e, i) => Entries(e, account, id, i + 1)).ToArray();
        var (opening, closing) = (Balance(statement, "OPBD") ?? Balance(statement, "PRCD"), Balance(statement, "CLBD"));
        var currency = Currency.TryOf(statement.TextAt("Acct", "Ccy"), out var said) ? said : (closing ?? opening)?.Currency ?? entries.Select(e => (Currency?)e.Row.Currency).FirstOrDefault() ?? throw new PaymentMessageException($"The statement {id} does not say its currency.");
        return new BankStatement(id, account, currency, Date(statement.At("FrToDt"), "FrDtTm"), Date(statement.At("FrToDt"), "ToDtTm"), opening?.Minor, closing?.Minor, entries);
    }

    /// <summary>From version .08 on the state is an element of its own.</summary>
    private static bool IsBooked(XElement entry) => entry.At("Sts", "Cd")?.Value.Trim() is { } code ? code == "BOOK" : entry.TextAt("Sts") is "BOOK" or "";

    /// <summary>One for each transaction where the bank gives their amounts, so that each finds its payment; else one for the whole.</summary>
    private static IEnumerable<BookedEntry> Entries(XElement entry, string account, string statement, int position)
    {
        var place = $"Entry {position} of the statement {statement}";
        var sum = Amount(entry.At("Amt")) ?? throw new PaymentMessageException($"{place} has no amount that can be read.");
        var on = Date(entry.At("BookgDt"), "Dt") ?? Date(entry.At("BookgDt"), "DtTm") ?? throw new PaymentMessageException($"{place} has no day of booking.");
        var sign = entry.TextAt("CdtDbtInd") switch { "DBIT" => -1, "CRDT" => 1, var other => throw new PaymentMessageException($"{place} is neither a debit nor a credit: '{other}'.") };
        var id = entry.TextAt("NtryRef") is { Length: > 0 } reference ? reference : entry.TextAt("AcctSvcrRef") is { Length: > 0 } of ? of : string.Create(CultureInfo.InvariantCulture, $"{statement} {position}");
        var isReturn = entry.TextAt("RvslInd") == "true";
        var transactions = entry.All("NtryDtls").SelectMany(d => d.All("TxDtls")).ToArray();
        var amounts = transactions.Select(t => Amount(t.At("AmtDtls", "TxAmt", "Amt") ?? t.At("Amt"))).ToArray();
        if (transactions.Length > 1 && amounts.All(a => a?.Currency == sum.Currency) && amounts.Sum(a => a!.Value.Minor) == sum.Minor)
        {
            for (var i = 0; i < transactions.Length; i++) yield return One(transactions[i], string.Create(CultureInfo.InvariantCulture, $"{id}/{i + 1}"), amounts[i]!.Value.Minor);
        }
        else
        {
            yield return One(transactions.Length == 1 ? transactions[0] : null, id, sum.Minor);
        }

        BookedEntry One(XElement? transaction, string lineId, long minor)
        {
            var batch = entry.At("NtryDtls", "Btch");
            var named = transaction?.TextAt("Refs", "EndToEndId") is { Length: > 0 } and not "NOTPROVIDED" and var own ? own
                : transaction?.TextAt("Refs", "MsgId") is { Length: > 0 } message ? message : batch?.TextAt("MsgId") is { Length: > 0 } ofBatch ? ofBatch : batch?.TextAt("PmtInfId") ?? "";
            var other = transaction?.At("RltdPties", sign < 0 ? "Cdtr" : "Dbtr");
            var name = other?.TextAt("Nm") is { Length: > 0 } plain ? plain : other?.TextAt("Pty", "Nm") ?? "";
            var note = string.Join(' ', new[] { string.Join(' ', transaction?.At("RmtInf")?.All("Ustrd").Select(u => u.Value.Trim()) ?? []), entry.TextAt("AddtlNtryInf") }.Where(n => n.Length > 0));
            var why = transaction?.At("RtrInf");
            return new BookedEntry(new StatementRow(account, lineId, on, sum.Currency, sign * minor, named, name, note, null) { IsReturn = why is not null || isReturn }, Reason(why));
        }
    }

    internal static string Reason(XElement? why)
    {
        if (why is null) return "no reason given";
        var (code, words) = (why.TextAt("Rsn", "Cd"), why.TextAt("AddtlInf"));
        return words.Length == 0 ? code : code.Length == 0 ? words : $"{words} ({code})";
    }

    private static Money? Balance(XElement statement, string code) => statement.All("Bal").FirstOrDefault(b => b.TextAt("Tp", "CdOrPrtry", "Cd") == code) is { } balance && Amount(balance.At("Amt")) is { } amount
        ? new Money(balance.TextAt("CdtDbtInd") == "DBIT" ? -amount.Minor : amount.Minor, amount.Currency)
        : null;

    private static Money? Amount(XElement? amount) =>
        amount?.Attribute("Ccy") is { } code && Currency.TryOf(code.Value, out var currency) && Money.TryParseMajor(amount.Value.Trim(), currency, out var money, out _) ? money : null;

    private static DateOnly? Date(XElement? at, string element) =>
        at?.TextAt(element) is { Length: >= 10 } text && DateOnly.TryParseExact(text[..10], "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var date) ? date : null;
}
