using EvenSplit.Books.Model;
using EvenSplit.Formats.Csv;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Journal;

/// <summary>What the seller calls the accounts of the journal: accounts.csv in, and out again.</summary>
public sealed class SellersAccounts(BookDbContext db, AuditLog audit) : IUseCase
{
    private const int LongestName = 200;

    private static readonly string[] Roots = ["Assets", "Liabilities", "Equity", "Income", "Expenses"];

    public static CsvColumns Columns { get; } = new("accounts", ["account", "code"], ["name"]);

    public IReadOnlyList<JournalAccountRecord> All() => db.JournalAccounts.AsNoTracking().OrderBy(a => a.Account).ToArray();

    /// <summary>Takes a file in place of what there is, whole or not at all.</summary>
    /// <returns>The rows at fault; none where it was taken.</returns>
    /// <exception cref="RefusedException">It is no such file.</exception>
    public IReadOnlyList<RowFault> Take(Stream file, string by)
    {
        var (accounts, faults) = (new Dictionary<string, JournalAccountRecord>(StringComparer.Ordinal), new List<RowFault>());
        try
        {
            using var table = new CsvTable(file, Columns);
            foreach (var row in table.Rows())
            {
                if (row.Damage is { } damage) faults.Add(new RowFault(row.Line, "", "", damage));
                else if (!Roots.Contains(row["account"].Split(':')[0])) faults.Add(new RowFault(row.Line, "account", row["account"], $"an account of the journal or one above it, beginning with {string.Join(", ", Roots[..^1])} or {Roots[^1]}"));
                else if (row["code"].Length + row["name"].Length is 0 or > LongestName) faults.Add(new RowFault(row.Line, "code", row["code"], $"a code or a name, of at most {LongestName} characters together"));
                else if (!accounts.TryAdd(row["account"], new JournalAccountRecord { Account = row["account"], Code = row["code"], Name = row["name"] })) faults.Add(new RowFault(row.Line, "account", row["account"], "each account once"));
            }
        }
        catch (CsvFileException unreadable)
        {
            throw new RefusedException(unreadable.Message, "File");
        }
        if (faults.Count > 0) return faults;
        using var transaction = db.Database.BeginTransaction();
        db.JournalAccounts.ExecuteDelete();
        db.JournalAccounts.AddRange(accounts.Values);
        audit.Note(by, "name accounts of the journal", Core.MoneyWords.Count(accounts.Count, "account"));
        db.SaveChanges();
        transaction.Commit();
        return [];
    }
}
