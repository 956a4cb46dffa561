using EvenSplit.Core;

namespace EvenSplit.Books.Auditing;

/// <summary>What the auditor's folder says of itself.</summary>
internal static class AuditReadme
{
    /// <param name="unsaid">What of the book's rules the scenario file cannot say.</param>
    public static string For(string book, Period from, Period to, DateOnly madeOn, IReadOnlyList<string> unsaid) => $"""
        {book}: {from.Name} to {to.Name}. Made on {madeOn.InWords()}.

        To work everything out again, with the application and nothing else of the book:
          1. unzip this folder and go into it
          2. ./evensplit calc scenario.json > again.json
          3. cmp again.json result.json
        scenario.json has every fact of the book: rules, sales, refunds, adjustments, and which payees each pay run took. result.json is what the book holds:
        each order's parts, each entry, each payee's line in each run. Where nothing differs, the book is what its facts come to.
        Where a line of a run differs, a fact came after that run was locked: entries.csv has its entry in a later run, record.csv says who brought it.
        {(unsaid.Count == 0 ? "The scenario says all rules of the book." : "The scenario cannot say: " + string.Join(" ", unsaid))}

        Of the months named above:
          entries.csv            what was posted to payees; run is the pay run that took it
          runs.csv, remittances.csv, statements/   the pay runs locked in them, a line for each payee, and what each payee was told
          payment-files/         the payment files as they were issued, with the accounts masked
          journal.journal, journal.csv, trial-balance.csv   double entry; hledger -f journal.journal check
          proof-MONTH.csv        each check with both figures
          months.csv             closed months: by whom, when, and the SHA-256 of what they hold
          settlements.csv, bank-lines.csv, partner-lines.csv   what processors, banks and partners sent, and in which file
          as-they-came/          those files, byte for byte
          record.csv             who did what, when and from where

        Of the whole book: matches-processors.csv, matches-bank.csv, matches-partners.csv, what was held against what, and why differences stand.

        """;
}
