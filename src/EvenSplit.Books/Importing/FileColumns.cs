using System.Text;
using EvenSplit.Books.Balances;
using EvenSplit.Books.Bulk;
using EvenSplit.Books.Catalogue;
using EvenSplit.Books.Model;
using EvenSplit.Formats.Csv;
using EvenSplit.Formats.Shops;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Importing;

/// <summary>A column of ours as a file says it.</summary>
/// <param name="Theirs">What the file calls it; empty where it has it not.</param>
/// <param name="Always">What holds in every row.</param>
/// <param name="Samples">Of the first rows, as they would be taken.</param>
public sealed record ColumnReading(string Column, string Words, bool IsRequired, string Theirs, string Always, IReadOnlyList<string> Samples);

/// <summary>A file as it would be taken.</summary>
/// <param name="Source">The shop it is thought to come from.</param>
/// <param name="Rows">The first rows, as they would be taken, with what keeps each out.</param>
/// <param name="Looked">How many rows were looked at.</param>
/// <param name="Faults">Why how many of them would wait.</param>
/// <param name="Missing">Needed columns that neither the file nor a word for every row says.</param>
/// <param name="Adjustments">What adjustments would add; null for another kind, or while something is missing or wrong.</param>
public sealed record FileReading(
    ImportRecord Import, ImportKind Kind, string Source, FileLayout Layout, IReadOnlyList<string> Header, IReadOnlyList<ColumnReading> Columns,
    IReadOnlyList<(CsvRow Row, string Fault)> Rows, int Looked, IReadOnlyList<(string Fault, int Rows)> Faults, IReadOnlyList<string> Missing,
    AdjustmentsAhead? Adjustments);

/// <summary>What became of a file: it is being read, is shown as a difference, or is in the book.</summary>
/// <param name="ImportId">Of what is read row by row.</param>
/// <param name="ChangeId">Of what shows its difference first.</param>
/// <param name="Added">Adjustments or rates that are in the book now.</param>
/// <param name="Known">Rows of adjustments that were in it before.</param>
public sealed record TakenFile(ImportKind Kind, int? ImportId, int? ChangeId, int Added, int Known);

/// <summary>Finds out what the columns of a shop's file are, shows how it would be taken, and remembers what was said.</summary>
public sealed class FileColumns(BookDbContext db, BookPlace place, BookCache cache, ImportFiles files, ReadImport imports, BulkChanges bulk, Adjustments adjustments, RateDesk rates, AuditLog audit) : IUseCase
{
    private const int Looked = 200;
    private const int Shown = 8;

    /// <summary>Of which a file shows the difference first, and is no longer than this.</summary>
    private const int MostOfBulk = BulkChanges.MaxBytes;

    /// <summary>What a file may be found to hold by what its columns are called; of the others somebody says it, or every column is one of ours.</summary>
    private static readonly ImportKind[] Kinds = [ImportKind.Orders, ImportKind.Refunds, ImportKind.Clicks, ImportKind.Products, ImportKind.Payees, ImportKind.Settlement, ImportKind.Statement, ImportKind.Outside];

    /// <summary>Shops whose files are remembered, by what they hold.</summary>
    public IReadOnlyList<FileSourceRecord> Sources() => db.FileSources.AsNoTracking().OrderBy(s => s.Name).ThenBy(s => s.Kind).ToArray();

    /// <summary>Keeps a file; one of ours, or with columns that are remembered, is queued at once.</summary>
    /// <param name="kind">What it holds; null finds out.</param>
    /// <returns>The import; where it waits for its columns, somebody has to look at them.</returns>
    /// <exception cref="RefusedException">It is empty, too large, or no table.</exception>
    public async Task<ImportRecord> ReceiveAsync(ImportKind? kind, string fileName, Stream content, string by, CancellationToken cancellation = default)
    {
        files.PutAwayOld();
        var import = await files.KeepUnreadAsync(fileName, content, by, cancellation);
        try
        {
            if (IsXml(import))
            {
                // A bank's statement as banks write them says itself what stands where.
                (import.Kind, import.State) = (ImportKind.Statement, ImportState.Waiting);
                audit.Note(by, "import", import.FileName);
                await db.SaveChangesAsync(cancellation);
                return import;
            }
            var head = Head(import);
            import.Kind = kind ?? KindOf(head);
            var columns = import.Kind.Columns();
            var isOurs = IsOurs(head, import.Kind);
            var remembered = db.FileSources.AsNoTracking().Where(s => s.Kind == import.Kind).AsEnumerable().Select(s => Layout(s.ColumnNames, columns)).FirstOrDefault(l => l.Fits(head.Header));
            import.ColumnNames = isOurs ? "" : (remembered ?? ColumnGuess.Layout(head, columns, cache.Get(db).Currency.Code, Stem(import))).ToString();
            if ((isOurs || remembered is not null) && !import.Kind.IsWhole())
            {
                import.State = ImportState.Waiting;
                audit.Note(by, "import", import.FileName);
            }
            await db.SaveChangesAsync(cancellation);
            return import;
        }
        catch (CsvFileException unreadable)
        {
            files.PutAway(import);
            await db.SaveChangesAsync(cancellation);
            throw new RefusedException(unreadable.Message, "File");
        }
    }

    /// <summary>A file that waits for its columns, read as was found out; null where there is none.</summary>
    public FileReading? Find(int id) => Waiting(id) is { } import ? Look(import, import.Kind, Layout(import.ColumnNames, import.Kind.Columns()), SourceOf(import)) : null;

    /// <summary>The same read as somebody says.</summary>
    public FileReading? Look(int id, ImportKind kind, FileLayout layout, string source) => Waiting(id) is { } import ? Look(import, kind, layout, source) : null;

    /// <summary>What the columns would be for another kind of file.</summary>
    public FileLayout Guess(int id, ImportKind kind) => ColumnGuess.Layout(Head(db.Imports.Known(i => i.Id == id)), kind.Columns(), cache.Get(db).Currency.Code, Stem(db.Imports.Known(i => i.Id == id)));

    /// <summary>Remembers the columns and reads the file so; what shows its difference first goes there.</summary>
    /// <param name="source">The shop; empty remembers nothing.</param>
    /// <param name="from">The day from which terms hold; of terms alone.</param>
    /// <exception cref="RefusedException">A needed column is missing, or a file that goes in whole has faults.</exception>
    public TakenFile Take(int id, ImportKind kind, FileLayout layout, string source, DateOnly? from, string by)
    {
        var import = db.Imports.Known(i => i.Id == id);
        if (import.State != ImportState.Columns) throw new RefusedException("This file has been dealt with already.");
        var reading = Look(import, kind, layout, source);
        if (reading.Missing is [var missing, ..]) throw new RefusedException($"Say which column is the {ColumnMeanings.Words(missing, kind.Columns().FileKind)}, or what it is in every row.", $"Theirs[{missing}]");
        // Rates are a change of rules, which is a transaction of its own; the same ones twice change nothing.
        using var transaction = kind == ImportKind.Rates ? null : db.BeginUnlessBegun();
        Remember(kind, source, layout, by);
        if (kind.IsWhole())
        {
            var taken = TakeWhole(import, kind, layout, from, by);
            db.Imports.Where(i => i.Id == id).ExecuteDelete();
            transaction?.Commit();
            // Only once what it says is kept: whatever fails before leaves the file to be taken again.
            files.DeleteUpload(import);
            return taken;
        }
        (import.Kind, import.ColumnNames, import.State) = (kind, layout.ToString(), ImportState.Waiting);
        audit.Note(by, "import", import.FileName);
        db.SaveChanges();
        transaction?.Commit();
        return new TakenFile(kind, import.Id, null, 0, 0);
    }

    /// <summary>Throws a file away that waits for its columns.</summary>
    public void Discard(int id, string by)
    {
        if (db.Imports.FirstOrDefault(i => i.Id == id && i.State == ImportState.Columns) is not { } import) return;
        audit.Note(by, "discard", import.FileName);
        files.PutAway(import);
        db.SaveChanges();
    }

    /// <summary>Forgets what a shop's files call their columns.</summary>
    public void Forget(string source, ImportKind kind, string by)
    {
        if (db.FileSources.FirstOrDefault(s => s.Name == source && s.Kind == kind) is not { } known) return;
        db.FileSources.Remove(known);
        audit.Note(by, "forget columns", $"{source}, {kind.ToString().ToLowerInvariant()}");
        db.SaveChanges();
    }

    /// <summary>Whether a file calls its columns as we do.</summary>
    /// <exception cref="RefusedException">It is no table.</exception>
    public static bool IsOurs(Stream file, ImportKind kind)
    {
        try
        {
            using var records = new CsvRecords(file);
            return IsOurs(records.Head(1), kind);
        }
        catch (CsvFileException unreadable)
        {
            throw new RefusedException(unreadable.Message, "File");
        }
    }

    private static bool IsOurs(FileHead head, ImportKind kind)
    {
        var columns = kind.Columns();
        return columns.Required.All(c => head.Header.Contains(c, StringComparer.OrdinalIgnoreCase))
            // Of rates any column may be the one that says it.
            && (kind != ImportKind.Rates || head.Header.Count(h => columns.All.Contains(h, StringComparer.OrdinalIgnoreCase)) > 1);
    }

    private static ImportKind KindOf(FileHead head)
    {
        foreach (var kind in Enum.GetValues<ImportKind>().Except(Kinds))
        {
            if (IsOurs(head, kind) && head.Header.All(h => kind.Columns().All.Contains(h, StringComparer.OrdinalIgnoreCase))) return kind;
        }
        return Kinds.MaxBy(k => Share(head, k.Columns()));
    }

    private ImportRecord? Waiting(int id) => db.Imports.AsNoTracking().FirstOrDefault(i => i.Id == id && i.State == ImportState.Columns);

    private static FileLayout Layout(string text, CsvColumns columns) => FileLayout.TryParse(text, columns, out var layout, out _) ? layout : FileLayout.Ours;

    private FileStream Open(ImportRecord import) => File.OpenRead(Path.Combine(place.Uploads, import.StoredAs!));

    private bool IsXml(ImportRecord import)
    {
        using var file = Open(import);
        return ReadImport.IsXml(file);
    }

    private FileHead Head(ImportRecord import)
    {
        using var file = Open(import);
        using var records = new CsvRecords(file);
        return records.Head(Looked);
    }

    /// <summary>How well a file fits what a kind holds: what it must have is there, and most of what it has is of use.</summary>
    private static decimal Share(FileHead head, CsvColumns columns)
    {
        var layout = ColumnGuess.Layout(head, columns, "", "");
        return (decimal)columns.Required.Count(layout.Columns.ContainsKey) / columns.Required.Count * layout.Columns.Values.Distinct().Count() / head.Header.Count;
    }

    private string SourceOf(ImportRecord import) =>
        db.FileSources.AsNoTracking().Where(s => s.Kind == import.Kind && s.ColumnNames == import.ColumnNames).Select(s => s.Name).FirstOrDefault() ?? Stem(import);

    /// <summary>orders_nord-shop_2026-11.csv: nord-shop. A shop names its files after itself or after nothing.</summary>
    private static string Stem(ImportRecord import)
    {
        string[] plain = ["order", "orders", "export", "sales", "report", "refunds", "clicks", "products", "payees", "partners", "affiliates", "bestellungen", "commandes", "all", "file"];
        var words = Path.GetFileNameWithoutExtension(import.FileName).ToLowerInvariant().Split(['_', '-', ' ', '.', '(', ')'], StringSplitOptions.RemoveEmptyEntries);
        var own = words.Where(w => !plain.Contains(w) && !w.All(char.IsDigit)).ToArray();
        return own.Length == 0 ? "shop" : string.Join('-', own);
    }

    private FileReading Look(ImportRecord import, ImportKind kind, FileLayout layout, string source)
    {
        var (columns, head) = (kind.Columns(), Head(import));
        string[] missing = layout.IsOurs
            ? [.. columns.Required.Where(c => !head.Header.Contains(c, StringComparer.OrdinalIgnoreCase))]
            : [.. columns.Required.Where(c => !layout.Columns.ContainsKey(c) && !layout.Always.ContainsKey(c) && !(c == "line_id" && layout.NumbersLines))];
        var rows = missing.Length == columns.Required.Count ? [] : Rows(import, columns.Without(missing), layout);
        // What is not said yet is told once, not in every row.
        var faults = missing.Length > 0 ? [] : Faults(rows, kind);
        string Theirs(string column) => layout.IsOurs ? head.Header.FirstOrDefault(h => string.Equals(h, column, StringComparison.OrdinalIgnoreCase), "") : layout.Columns.GetValueOrDefault(column, "");
        return new FileReading(
            import, kind, source, layout, head.Header,
            [
                .. columns.All.Select(c => new ColumnReading(c, ColumnMeanings.Words(c, columns.FileKind), columns.Required.Contains(c), Theirs(c), layout.Always.GetValueOrDefault(c, ""), [.. rows.Select(r => r[c]).Where(v => v.Length > 0).Distinct().Take(3)])),
            ],
            [.. rows.Take(Shown).Select(r => (r, string.Join("; ", faults.Where(f => f.Row == r.Line).Select(f => f.ToString()))))], rows.Length,
            [.. faults.GroupBy(f => (f.Column, f.Expected)).Select(g => (g.First().ToString(), g.Select(f => f.Row).Distinct().Count())).OrderByDescending(g => g.Item2).Take(5)], missing,
            kind == ImportKind.Adjustments && missing.Length == 0 && faults.Count == 0 ? adjustments.Ahead(Ours(import, kind, layout)) : null);
    }

    private CsvRow[] Rows(ImportRecord import, CsvColumns columns, FileLayout layout)
    {
        using var file = Open(import);
        using var table = new CsvTable(file, columns, layout);
        return [.. table.Rows().Take(Looked)];
    }

    private IReadOnlyList<RowFault> Faults(CsvRow[] rows, ImportKind kind)
    {
        if (!kind.IsWhole()) return [.. rows.InGroups(kind, imports.Reader()).SelectMany(g => g.Faults)];
        RowFault[] misread = [.. rows.SelectMany(r => r.Damage is { } damage ? [new RowFault(r.Line, "", "", damage)] : r.Misread.Select(m => new RowFault(r.Line, m.Key, r[m.Key], m.Value)))];
        if (misread.Length > 0) return misread;
        var book = cache.Get(db);
        return kind switch
        {
            ImportKind.Adjustments => AdjustmentsCsv.Read(rows, book.Rules).Faults,
            ImportKind.Rates => RatesCsv.Read(rows, book.Time, book.Currency).Faults,
            // Their difference tells what is wrong.
            _ => [],
        };
    }

    private void Remember(ImportKind kind, string source, FileLayout layout, string by)
    {
        var name = source.Trim();
        if (name.Length == 0 || layout.IsOurs) return;
        var known = db.FileSources.Where(s => s.Kind == kind).AsEnumerable().FirstOrDefault(s => string.Equals(s.Name, name, StringComparison.OrdinalIgnoreCase));
        if (known?.ColumnNames == layout.ToString()) return;
        if (known is null) db.FileSources.Add(new FileSourceRecord { Name = name, Kind = kind, ColumnNames = layout.ToString() });
        else known.ColumnNames = layout.ToString();
        audit.Note(by, "remember columns", $"{name}, {kind.ToString().ToLowerInvariant()}");
    }

    /// <summary>A file that goes in whole: as a difference to be shown, or at once.</summary>
    private TakenFile TakeWhole(ImportRecord import, ImportKind kind, FileLayout layout, DateOnly? from, string by)
    {
        switch (kind)
        {
            case ImportKind.Adjustments:
                var (added, known, refused) = adjustments.AddFile(Ours(import, kind, layout), by);
                return Sound(refused, new TakenFile(kind, null, null, added, known));
            case ImportKind.Rates:
                var (taken, faults) = rates.Import(Ours(import, kind, layout), by);
                return Sound(faults, new TakenFile(kind, null, null, taken, 0));
            default:
                var (change, wrong) = bulk.Propose(kind.Bulk(), import.FileName, AsOurs(import, kind, layout), false, from, by);
                return Sound(wrong, new TakenFile(kind, null, change, 0, 0));
        }
    }

    private static TakenFile Sound(IReadOnlyList<RowFault> faults, TakenFile taken) =>
        faults.Count == 0 ? taken : throw new RefusedException(string.Join("\n", faults.Take(50).Select(f => f.Row > 0 ? $"Row {f.Row}: {f}" : f.ToString())), "File");

    private MemoryStream Ours(ImportRecord import, ImportKind kind, FileLayout layout) => new(Encoding.UTF8.GetBytes(AsOurs(import, kind, layout)));

    /// <summary>The file as we would have written it; a row keeps its number as long as none before it is empty.</summary>
    private string AsOurs(ImportRecord import, ImportKind kind, FileLayout layout)
    {
        if (import.Bytes > MostOfBulk) throw new RefusedException($"A file of {kind.ToString().ToLowerInvariant()} is {MostOfBulk / 1024 / 1024} MB at most; bring it in in parts.", "File");
        using var file = Open(import);
        using var table = new CsvTable(file, kind.Columns(), layout);
        var rows = table.Rows().ToArray();
        string[] header = [.. kind.Columns().All.Where(c => table.Columns.Contains(c) || layout.Always.ContainsKey(c))];
        if (Faults(rows, kind) is [var fault, ..]) throw new RefusedException($"Row {fault.Row}: {fault}.", "File");
        using var text = new StringWriter(new StringBuilder());
        CsvOutput.WriteExact(text, header, rows.Select(r => header.Select(c => r[c]).ToArray()));
        return text.ToString();
    }
}
