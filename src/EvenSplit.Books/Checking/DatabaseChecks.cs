using EvenSplit.Books.Model;
using EvenSplit.Books.Record;
using EvenSplit.Core;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Checking;

/// <summary>Whether the database itself is whole: its pages and indexes, its links, its guards, and what must be there once only.</summary>
internal static class DatabaseChecks
{
    private sealed record BrokenLink(string Table, long? RowId, string Parent);

    public static IEnumerable<CheckLine> Of(BookDbContext db)
    {
        var pages = new Comparison("Database file");
        var said = OwnCheck(db);
        foreach (var fault in said.Where(s => s != "ok")) pages.Differ(CheckSubject.Nothing, "", "The database's own check", fault, "ok");
        yield return pages.Line(said.Count == 1 ? said[0] : MoneyWords.Count(said.Count, "fault"), "ok");

        var links = new Comparison("Links between rows");
        var broken = db.Database.SqlQueryRaw<BrokenLink>("SELECT \"table\" AS \"Table\", rowid AS RowId, parent AS Parent FROM pragma_foreign_key_check").ToArray();
        foreach (var link in broken) links.Differ(CheckSubject.Nothing, "", $"Row {link.RowId} of {link.Table}", $"names a row of {link.Parent} that is not there", "a row that is");
        var unfound = db.Database.SqlQueryRaw<string>("SELECT OrderId AS Value FROM Orders WHERE Id NOT IN (SELECT id FROM OrderTexts_docsize) ORDER BY Id").ToArray();
        foreach (var order in unfound) links.Differ(CheckSubject.Order, order, $"Order {order}", "is not among those found by a part of their id", "among them");
        yield return links.Line(MoneyWords.Count(broken.Length + unfound.Length, "broken link"), "0 broken links");

        yield return Guards(db);
        yield return References(db);
        yield return RecordLinks(db);
    }

    /// <summary>
    /// On a connection of its own: one that was used before may remember of the search index what another has changed since, and take that for damage.
    /// </summary>
    private static List<string> OwnCheck(BookDbContext db)
    {
        using var connection = new SqliteConnection(new SqliteConnectionStringBuilder(db.Database.GetConnectionString()) { Mode = SqliteOpenMode.ReadOnly, Pooling = false }.ToString());
        connection.Open();
        using var command = connection.CreateCommand();
        command.CommandText = "PRAGMA integrity_check";
        using var row = command.ExecuteReader();
        var said = new List<string>();
        while (row.Read()) said.Add(row.GetString(0));
        return said;
    }

    /// <summary>Each row of the record against the one before it, and the row that the check before this one found last.</summary>
    private static CheckLine RecordLinks(BookDbContext db)
    {
        var record = new Comparison("The record of what was done");
        var things = db.Set<AuditThingRecord>().AsNoTracking().ToLookup(t => t.AuditId);
        var known = db.BookChecks.AsNoTracking().Where(c => c.IsDone && c.LastAudit != null).OrderByDescending(c => c.Id).FirstOrDefault();
        var (hash, id, linked, wasKnown) = ("", 0L, 0L, known is null);
        foreach (var row in db.Audit.AsNoTracking().OrderBy(a => a.Id).AsEnumerable())
        {
            row.Things = [.. things[row.Id]];
            if (row.Hash == RecordChain.HashOf(hash, row)) linked++;
            else record.Differ(CheckSubject.Nothing, "", $"Row {row.Id}: {row.By}, {row.Action}", "is not what it was when it was written, or a row before it is gone", "as it was written");
            (hash, id) = (row.Hash, row.Id);
            if (known?.LastAudit == row.Id && known.LastAuditHash == row.Hash) wasKnown = true;
        }
        if (!wasKnown) record.Differ(CheckSubject.Nothing, "", $"Row {known!.LastAudit}, the last that the check before this one found", "gone, or another", "as it was");
        return record.Line(MoneyWords.Count(id, "row"), MoneyWords.Count(linked, "row"));
    }

    private static CheckLine Guards(BookDbContext db)
    {
        var guards = new Comparison("Guards of the database");
        var present = DatabaseGuards.Present(db);
        foreach (var (name, sql) in DatabaseGuards.Wanted)
        {
            if (!present.TryGetValue(name, out var kept)) guards.Differ(CheckSubject.Nothing, "", $"Guard {name}", "missing", "present");
            else if (kept != sql) guards.Differ(CheckSubject.Nothing, "", $"Guard {name}", "another text", "as Guards.sql has it");
        }
        foreach (var name in present.Keys.Except(DatabaseGuards.Wanted.Keys)) guards.Differ(CheckSubject.Nothing, "", $"Trigger {name}", "present", "none of that name");
        return guards.Line(MoneyWords.Count(present.Count, "guard"), MoneyWords.Count(DatabaseGuards.Wanted.Count, "guard"));
    }

    /// <summary>Read past the indexes, which could be at fault themselves.</summary>
    private static CheckLine References(BookDbContext db)
    {
        var references = new Comparison("References used once");
        long all = 0, apart = 0;
        foreach (var (table, column, what) in new[]
        {
            ("Orders NOT INDEXED", "OrderId", "Order id"), ("Refunds NOT INDEXED", "RefundId", "Refund id"), ("PayRuns NOT INDEXED", "Reference", "Run"), ("Adjustments NOT INDEXED", "Reference", "Adjustment"),
            // What is paid through one payee goes out as one payment.
            ("(SELECT DISTINCT EndToEnd, RunId, COALESCE(Through, Payee) FROM Remittances NOT INDEXED)", "EndToEnd", "Payment reference"), ("PaymentFiles NOT INDEXED", "MessageId", "Payment file"),
        })
        {
            // Names of our own tables and columns, which no parameter can be.
            var counting = $"SELECT CAST(COUNT(+{column}) AS TEXT) || ' ' || COUNT(DISTINCT +{column}) AS Value FROM {table}";
            var finding = $"SELECT {column} AS Value FROM {table} WHERE {column} IS NOT NULL GROUP BY +{column} HAVING COUNT(*) > 1";
            var counts = db.Database.SqlQueryRaw<string>(counting).AsEnumerable().Single().Split(' ');
            all += long.Parse(counts[0], System.Globalization.CultureInfo.InvariantCulture);
            apart += long.Parse(counts[1], System.Globalization.CultureInfo.InvariantCulture);
            if (counts[0] == counts[1]) continue;
            foreach (var twice in db.Database.SqlQueryRaw<string>(finding))
            {
                references.Differ(CheckSubject.Nothing, "", $"{what} {twice}", "used more than once", "once");
            }
        }
        return references.Line(MoneyWords.Count(all, "reference"), MoneyWords.Count(apart, "reference"));
    }
}
