using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.PayRuns;

/// <summary>A payee's entries that a run takes, told in two numbers, so that a stamp changed later shows.</summary>
internal sealed record ClearedEntries(string Payee, long Entries, long Fingerprint)
{
    /// <summary>The numbers of SQLite's own sums: keys and clearing days of the entries that a condition picks.</summary>
    private const string Sums = "Payee, COUNT(*) AS Entries, SUM((Id % 1048573) * 131071 + CAST(julianday(ClearsOn) AS INTEGER) % 131071) AS Fingerprint FROM Entries WHERE";

    /// <summary>By payee, of what no run has taken and has cleared by a date.</summary>
    public static IReadOnlyDictionary<string, ClearedEntries> By(BookDbContext db, DateOnly asOf) =>
        db.Database.SqlQueryRaw<ClearedEntries>($"SELECT {Sums} RunId IS NULL AND ClearsOn <= {{0}} GROUP BY Payee", asOf).ToDictionary(c => c.Payee);

    /// <summary>By payee, of what a run has taken.</summary>
    public static IReadOnlyDictionary<string, ClearedEntries> Of(BookDbContext db, int run) =>
        db.Database.SqlQueryRaw<ClearedEntries>($"SELECT {Sums} RunId = {{0}} GROUP BY Payee", run).ToDictionary(c => c.Payee);
}
