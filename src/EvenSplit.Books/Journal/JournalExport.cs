using EvenSplit.Books.Model;
using EvenSplit.Books.Posting;
using EvenSplit.Books.Reconcile;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Journal;

/// <summary>What an account came to over a span of days, in one currency; debit positive.</summary>
public sealed record AccountSum(string Account, Currency Currency, long Opening, long Debit, long Credit)
{
    public long Closing => Opening + Debit - Credit;
}

/// <summary>Gives the journal away: as plain text, as CSV, as a trial balance, and the ledger of one account.</summary>
public sealed class JournalExport(BookDbContext db, BookCache cache, BookJournal journal, JournalDays days, FindMatches matches) : IUseCase
{
    private static readonly string[] TrialHeader = ["account", "code", "name", "currency", "opening", "debit", "credit", "closing"];

    /// <summary>What the seller calls accounts, by ours.</summary>
    public AccountNames Names() => new(db.JournalAccounts.AsNoTracking().ToArray());

    /// <summary>Until everything that waits is booked.</summary>
    public void Prepare() => matches.RunAll();

    public void WriteText(DateOnly? from, DateOnly? to, TextWriter output) =>
        JournalText.Write(output, Title(from, to), db.JournalAccounts.AsNoTracking().OrderBy(a => a.Account).ToArray(), journal.Between(from, to));

    public void WriteCsv(DateOnly? from, DateOnly? to, TextWriter output) => JournalText.WriteCsv(output, Names(), journal.Between(from, to));

    /// <summary>Every account with what it came to; what was before the first day is its opening.</summary>
    public IReadOnlyList<AccountSum> TrialBalance(DateOnly? from, DateOnly? to) => Sums(null, from, to);

    /// <summary>What moved in each account over some days; what was before is left out.</summary>
    public IReadOnlyList<AccountSum> Movements(DateOnly from, DateOnly to) => Sums(from, from, to);

    /// <param name="earliest">What is before it is left out; null for nothing.</param>
    private IReadOnlyList<AccountSum> Sums(DateOnly? earliest, DateOnly? from, DateOnly? to)
    {
        using var reading = db.BeginReading();
        var sums = new Dictionary<(string Account, string Currency), (long Opening, long Debit, long Credit)>();
        foreach (var transaction in journal.BesideSales(earliest, to))
        {
            foreach (var posting in transaction.Postings) Add(posting.Account, posting.Amount.Currency.Code, Math.Max(0, posting.Amount.Minor), Math.Max(0, -posting.Amount.Minor), transaction.On < from);
        }
        AddSales(from, to, isBefore: false);
        if (earliest is null && from is not null) AddSales(earliest, from.Value.AddDays(-1), isBefore: true);
        return [.. sums.OrderBy(s => s.Key.Account, StringComparer.Ordinal).ThenBy(s => s.Key.Currency, StringComparer.Ordinal).Select(s => new AccountSum(s.Key.Account, Currency.Of(s.Key.Currency), s.Value.Opening, s.Value.Debit, s.Value.Credit))];

        void AddSales(DateOnly? first, DateOnly? last, bool isBefore)
        {
            var roles = cache.Get(db).Rules.Payees.ToDictionary(p => p.Id.Value, p => p.Role);
            foreach (var sum in days.Between(first, last))
            {
                if (sum.Kind == SealedKind.Bookings)
                {
                    Add(sum.Of, sum.Currency, sum.Debit, sum.Credit, isBefore);
                    continue;
                }
                Add(JournalAccount.EarningsOf(roles[sum.Of]), sum.Currency, sum.Debit, sum.Credit, isBefore);
                Add(JournalAccount.Earnings(sum.Of), sum.Currency, sum.Credit, sum.Debit, isBefore);
            }
        }

        void Add(string account, string currency, long debit, long credit, bool isBefore)
        {
            var was = sums.GetValueOrDefault((account, currency));
            sums[(account, currency)] = isBefore ? (was.Opening + debit - credit, was.Debit, was.Credit) : (was.Opening, was.Debit + debit, was.Credit + credit);
        }
    }

    /// <summary>As CSV, with the seller's own codes and names.</summary>
    public void WriteTrialBalance(DateOnly? from, DateOnly? to, TextWriter output)
    {
        var names = Names();
        CsvOutput.Write(output, TrialHeader, TrialBalance(from, to).Select(Row));

        string[] Row(AccountSum s)
        {
            var own = names.Of(s.Account);
            string Major(long minor) => new Money(minor, s.Currency).ToMajorText();
            return [s.Account, own?.Code ?? "", own?.Name ?? "", s.Currency.Code, Major(s.Opening), Major(s.Debit), Major(s.Credit), Major(s.Closing)];
        }
    }

    private string Title(DateOnly? from, DateOnly? to) => $"{cache.Get(db).Record.Name}, journal{(from is { } first ? $" from {first:yyyy-MM-dd}" : "")}{(to is { } last ? $" to {last:yyyy-MM-dd}" : "")}";
}
