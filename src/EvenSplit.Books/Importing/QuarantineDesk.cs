using System.Text.Json;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Importing;

/// <summary>A row that waits, with its cells.</summary>
public sealed record WaitingRow(long Id, long Row, IReadOnlyList<string> ColumnsAtFault, string Fault, IReadOnlyDictionary<string, string> Cells);

/// <summary>The rows of one order or refund that wait together.</summary>
public sealed record WaitingGroup(int ImportId, ImportKind Kind, string FileName, string Group, IReadOnlyList<WaitingRow> Rows)
{
    /// <summary>The columns any of the rows has a cell or a fault in, in the file format's order.</summary>
    public IReadOnlyList<string> Columns { get; } =
        Kind.Columns().All
            .Where(c => Rows.Any(r => r.Cells.ContainsKey(c) || r.ColumnsAtFault.Contains(c))).ToArray();
}

/// <summary>Rows that could not be taken: shown with their reasons, corrected in place, sent again or discarded.</summary>
public sealed class QuarantineDesk(BookDbContext db, ReadImport imports, AuditLog audit) : IUseCase
{
    private const int MostGroups = 50;

    /// <summary>Who stands in the log where nobody pressed anything.</summary>
    private const string ByItself = "the book";

    public int Count() => db.Quarantine.Count(q => q.State == QuarantineState.Waiting);

    /// <summary>Why rows wait, and how many for each reason; the most frequent first.</summary>
    public IReadOnlyList<(string Fault, int Rows)> Reasons() => [.. db.Quarantine.Where(q => q.State == QuarantineState.Waiting && q.Columns != "").GroupBy(q => q.Fault)
        .Select(g => new { g.Key, Count = g.Count() }).OrderByDescending(g => g.Count).ThenBy(g => g.Key).Take(MostGroups).AsEnumerable().Select(g => (g.Key, g.Count))];

    /// <summary>What waits, oldest first; the first fifty orders or refunds of it.</summary>
    /// <param name="fault">For this reason only; empty for any.</param>
    public IReadOnlyList<WaitingGroup> Waiting(string fault = "")
    {
        var keys = db.Quarantine.Where(q => q.State == QuarantineState.Waiting && (fault == "" || db.Quarantine.Any(o => o.ImportId == q.ImportId && o.Group == q.Group && o.State == QuarantineState.Waiting && o.Fault == fault)))
            .GroupBy(q => new { q.ImportId, q.Group })
            .Select(g => new { g.Key.ImportId, g.Key.Group, First = g.Min(q => q.Id) })
            .OrderBy(g => g.First).Take(MostGroups).ToArray();
        return keys.Select(k => Find(k.ImportId, k.Group)!).ToArray();
    }

    public WaitingGroup? Find(int importId, string group)
    {
        var import = db.Imports.AsNoTracking().FirstOrDefault(i => i.Id == importId);
        var rows = WaitingRows(importId, group).AsNoTracking().OrderBy(q => q.Row).ToArray();
        return import is null || rows.Length == 0
            ? null
            : new WaitingGroup(importId, import.Kind, import.FileName, group, rows.Select(r => new WaitingRow(r.Id, r.Row, r.Columns.Split(' ', StringSplitOptions.RemoveEmptyEntries), r.Fault, Cells(r))).ToArray());
    }

    /// <summary>Puts the corrected cells in place and sends the rows in again. What still cannot be taken stays, with its new reason and the corrections kept.</summary>
    /// <param name="corrections">By row id, then column.</param>
    /// <returns>True where the order or refund is now in the book.</returns>
    public bool SendAgain(int importId, string group, IReadOnlyDictionary<long, IReadOnlyDictionary<string, string>> corrections, string by)
    {
        var import = db.Imports.Known(i => i.Id == importId);
        var rows = WaitingRows(importId, group).OrderBy(q => q.Row).ToArray();
        if (rows.Length == 0) throw new RefusedException("These rows are no longer waiting: somebody has sent or discarded them.");
        var corrected = rows.Select(r => new CsvRow(r.Row, Merge(Cells(r), corrections.GetValueOrDefault(r.Id)))).ToArray();
        foreach (var row in rows) row.State = QuarantineState.Taken;
        import.Quarantined -= rows.Length;
        audit.Note(by, "send quarantined rows again", $"{import.FileName}: {group}");
        // Saved with the rows that go in; what is refused again is added as waiting anew.
        using var transaction = db.Database.BeginTransaction();
        db.SaveChanges();
        imports.TakeCorrected(import, corrected, isDecided: by != ByItself);
        transaction.Commit();
        var firstNew = rows.Max(r => r.Id);
        return !db.Quarantine.Any(q => q.ImportId == importId && q.Group == group && q.State == QuarantineState.Waiting && q.Id > firstNew);
    }

    /// <summary>Sends refunds again that only waited for their order, where it has come since.</summary>
    /// <returns>How many are in the book now.</returns>
    public int SendRefundsWhoseOrderCame()
    {
        var come = db.Quarantine.AsNoTracking().Where(q => q.State == QuarantineState.Waiting && q.WaitsForOrder != null && db.Orders.Any(o => o.OrderId == q.WaitsForOrder))
            .OrderBy(q => q.Id).Select(q => new { q.ImportId, q.Group }).ToArray();
        return come.Count(w => SendAgain(w.ImportId, w.Group, new Dictionary<long, IReadOnlyDictionary<string, string>>(), ByItself));
    }

    /// <summary>Sends everything again as it is: after a rule, a product or a processor was added that it waited for.</summary>
    /// <returns>How many orders and refunds are in the book now, and how many wait still.</returns>
    public (int Taken, int Waiting) SendAllAgain(string fault, string by)
    {
        var groups = Groups(fault);
        var taken = groups.Count(g => SendAgain(g.ImportId, g.Group, new Dictionary<long, IReadOnlyDictionary<string, string>>(), by));
        return (taken, groups.Length - taken);
    }

    /// <summary>Discards whatever waits for one reason.</summary>
    /// <returns>How many orders and refunds that is.</returns>
    public int DiscardAll(string fault, string by)
    {
        if (fault.Length == 0) throw new RefusedException("Choose a reason first: only what waits for one reason is discarded at once.");
        var groups = Groups(fault);
        using var transaction = db.Database.BeginTransaction();
        foreach (var (importId, group) in groups) foreach (var row in WaitingRows(importId, group)) row.State = QuarantineState.Discarded;
        audit.Note(by, "discard quarantined rows", $"{MoneyWords.Count(groups.Length, "group")}: {fault}");
        db.SaveChanges();
        transaction.Commit();
        return groups.Length;
    }

    private (int ImportId, string Group)[] Groups(string fault) => [.. db.Quarantine.Where(q => q.State == QuarantineState.Waiting && (fault == "" || q.Fault == fault))
        .Select(q => new { q.ImportId, q.Group }).Distinct().OrderBy(g => g.ImportId).ThenBy(g => g.Group).AsEnumerable().Select(g => (g.ImportId, g.Group))];

    public void Discard(int importId, string group, string by)
    {
        foreach (var row in WaitingRows(importId, group)) row.State = QuarantineState.Discarded;
        audit.Note(by, "discard quarantined rows", group);
        db.SaveChanges();
    }

    private IQueryable<QuarantinedRowRecord> WaitingRows(int importId, string group) =>
        db.Quarantine.Where(q => q.ImportId == importId && q.Group == group && q.State == QuarantineState.Waiting);

    private static Dictionary<string, string> Cells(QuarantinedRowRecord row) => JsonSerializer.Deserialize<Dictionary<string, string>>(row.Cells)!;

    private static Dictionary<string, string> Merge(Dictionary<string, string> cells, IReadOnlyDictionary<string, string>? corrections)
    {
        foreach (var (column, value) in corrections ?? new Dictionary<string, string>())
        {
            if (value.Trim().Length == 0) cells.Remove(column);
            else cells[column] = value.Trim();
        }
        return cells;
    }
}
