using System.Globalization;
using EvenSplit.Books.Model;
using EvenSplit.Books.Posting;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;

namespace EvenSplit.Books.Journal;

/// <summary>Writes transactions as plain text that hledger and ledger read, or as CSV with a row for each posting; one after another, however many there are.</summary>
public static class JournalText
{
    private static readonly string[] Header = ["date", "transaction", "description", "account", "code", "name", "amount", "currency", "worth", "worth_currency", "source", "key", "note"];

    public static void Write(TextWriter to, string title, IEnumerable<JournalAccountRecord> accounts, IEnumerable<JournalTransaction> transactions)
    {
        to.Write($"; {JournalAccount.Part(title)}\n");
        foreach (var account in accounts) to.Write($"; {account.Account} is {JournalAccount.Part($"{account.Code} {account.Name}")}\n");
        foreach (var transaction in transactions) Write(to, transaction);
    }

    public static void Write(TextWriter to, JournalTransaction transaction)
    {
        to.Write('\n');
        Day(to, transaction.On);
        to.Write(' ');
        to.Write(transaction.Words);
        to.Write("\n    ; ");
        to.Write(Word(transaction.Source));
        to.Write(':');
        to.Write(transaction.Key);
        if (transaction.Note.Length > 0)
        {
            to.Write(", ");
            to.Write(transaction.Note);
        }
        to.Write('\n');
        foreach (var posting in transaction.Postings)
        {
            to.Write("    ");
            to.Write(posting.Account);
            to.Write("  ");
            Amount(to, posting.Amount);
            if (posting.Worth is { } worth)
            {
                // The price is of the whole posting, and has no sign.
                to.Write(" @@ ");
                Amount(to, new Money(Math.Abs(worth.Minor), worth.Currency));
            }
            to.Write('\n');
        }
    }

    /// <summary>With the seller's own codes and names beside ours.</summary>
    public static void WriteCsv(TextWriter to, AccountNames names, IEnumerable<JournalTransaction> transactions)
    {
        var number = 0;
        CsvOutput.Write(to, Header, transactions.SelectMany(Rows));

        IEnumerable<string[]> Rows(JournalTransaction t)
        {
            var (on, id) = (t.On.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture), (++number).ToString(CultureInfo.InvariantCulture));
            foreach (var p in t.Postings)
            {
                var own = names.Of(p.Account);
                yield return [on, id, t.Words, p.Account, own?.Code ?? "", own?.Name ?? "", p.Amount.ToMajorText(), p.Amount.Currency.Code, p.Worth?.ToMajorText() ?? "", p.Worth?.Currency.Code ?? "", Word(t.Source), t.Key, t.Note];
            }
        }
    }

    private static string Word(JournalSource source) => source switch
    {
        JournalSource.Order => "order",
        JournalSource.Entry => "entry",
        JournalSource.Run => "run",
        JournalSource.Settlement => "settlement",
        _ => "bank",
    };

    private static void Day(TextWriter to, DateOnly on)
    {
        Span<char> text = stackalloc char[10];
        on.TryFormat(text, out _, "yyyy-MM-dd", CultureInfo.InvariantCulture);
        to.Write(text);
    }

    private static void Amount(TextWriter to, Money money)
    {
        to.Write(money.ToMajorText());
        to.Write(' ');
        to.Write(money.Currency.Code);
    }
}

/// <summary>What the seller calls our accounts: an account's own code and name, else those of the nearest above it.</summary>
public sealed class AccountNames(IEnumerable<JournalAccountRecord> mapped)
{
    private readonly Dictionary<string, JournalAccountRecord> _mapped = mapped.ToDictionary(m => m.Account, StringComparer.Ordinal);
    private readonly Dictionary<string, JournalAccountRecord?> _found = [];

    public JournalAccountRecord? Of(string account)
    {
        if (_mapped.Count == 0) return null;
        if (_found.TryGetValue(account, out var known)) return known;
        JournalAccountRecord? own = null;
        for (var name = account; own is null && name.Length > 0; name = name.LastIndexOf(':') is > 0 and var colon ? name[..colon] : "") own = _mapped.GetValueOrDefault(name);
        return _found[account] = own;
    }
}
