using System.Diagnostics;
using EvenSplit.Books.Keeping;
using EvenSplit.Books.Model;
using EvenSplit.Books.PayRuns;
using EvenSplit.Books.Posting;
using EvenSplit.Books.Reconcile;
using EvenSplit.Books.SettingAside;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;
using EvenSplit.Formats.Shops;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Storage;

namespace EvenSplit.Books.Importing;

/// <summary>
/// Reads a queued file to its end. Orders and refunds go in whole or wait whole, some hundred at a time, each batch in one transaction with the
/// import's own progress: stopped anywhere, it starts over and finds what is in already unchanged.
/// </summary>
public sealed class ReadImport(BookDbContext db, BookPlace place, BookCache cache, BookClock clock, WriterQueue writers, UnknownBuyers unknown, TakeOutside outside, FilesAsTheyCame asTheyCame, PaymentResults statements) : IUseCase
{
    private const int LargestBatch = 500;
    private const int SmallestBatch = 50;
    private const int OutsideBatch = 5_000;
    /// <summary>Taken in one transaction, so that nobody else writes meanwhile.</summary>
    private const long MostOfOutside = 96L * 1024 * 1024;
    /// <summary>How long a batch should take while somebody else waits to write.</summary>
    private static readonly TimeSpan Wanted = TimeSpan.FromMilliseconds(100);

    private int _batch = LargestBatch;

    /// <param name="progress">Called after every batch.</param>
    public ImportRecord Run(int importId, Action<ImportRecord>? progress = null, CancellationToken cancellation = default)
    {
        var import = db.Imports.Known(i => i.Id == importId);
        // What others write is there as a whole or not at all.
        using var whole = import.Kind.IsOutside() ? db.BeginUnlessBegun() : null;
        StartOver(import);
        try
        {
            if (import.Kind.IsOutside() && import.Bytes > MostOfOutside) throw new RefusedException($"A file of a processor, bank or partner is {MostOfOutside / 1024 / 1024} MB at most; bring it in in parts.");
            using var file = File.OpenRead(Path.Combine(place.Uploads, import.StoredAs!));
            if (import.Kind == ImportKind.Statement && IsXml(file)) statements.ReadStatement(import, new StreamReader(file).ReadToEnd());
            else ReadRows(import, file, progress, cancellation);
            Finish(import, ImportState.Done, null, whole);
        }
        catch (Exception fault) when (fault is CsvFileException || (fault is RefusedException && import.Kind.IsOutside()))
        {
            whole?.Rollback();
            Finish(import, ImportState.Refused, fault.Message);
        }
        catch (Exception failure) when (failure is not OperationCanceledException && !MayPass(failure))
        {
            whole?.Rollback();
            Finish(import, ImportState.Refused, $"Something unexpected stopped the reading near row {import.Rows}. {(import.Kind.IsOutside() ? "Nothing of the file is in the book" : "What was read before it is in the book")}; the application's log says why.");
            throw;
        }
        progress?.Invoke(import);
        return import;
    }

    private void ReadRows(ImportRecord import, FileStream file, Action<ImportRecord>? progress, CancellationToken cancellation)
    {
        using var table = new CsvTable(file, import.Kind.Columns(), FileLayout.TryParse(import.ColumnNames, import.Kind.Columns(), out var layout, out _) ? layout : null);
        import.ExtraColumns = string.Join(", ", table.ExtraColumns);
        if (import.Kind.IsOutside()) _batch = OutsideBatch;
        var groups = table.Rows().InGroups(import.Kind, Reader());
        // What a refund says is read by its order, which the book has.
        if (import.Kind != ImportKind.Refunds) groups = groups.ReadAhead(LargestBatch);
        foreach (var batch in groups.InBatches(() => _batch))
        {
            cancellation.ThrowIfCancellationRequested();
            import.Rows += batch.Sum(g => g.Rows.Count);
            import.BytesRead = file.Position;
            Take(import, batch);
            progress?.Invoke(import);
        }
        if (import.Kind.IsOutside()) FinishOutside(import);
    }

    /// <summary>Once all lines of a file are in; a bank's table tells what became of payments too.</summary>
    private void FinishOutside(ImportRecord import)
    {
        outside.Finish(import);
        statements.TakeBooked(import, outside.NewlyBooked());
    }

    /// <summary>Whether a file is what banks write; it stands at its beginning after this as before.</summary>
    internal static bool IsXml(Stream file)
    {
        Span<byte> head = stackalloc byte[64];
        var length = file.ReadAtLeast(head, head.Length, throwOnEndOfStream: false);
        file.Position = 0;
        return System.Text.Encoding.UTF8.GetString(head[..length]).TrimStart('\uFEFF', ' ', '\r', '\n', '\t').StartsWith('<');
    }

    /// <summary>A database that is busy or a full disk: the import stays waiting and is tried again.</summary>
    internal static bool MayPass(Exception failure) =>
        failure is IOException or SqliteException { SqliteErrorCode: 5 or 6 or 10 or 13 } || (failure is DbUpdateException { InnerException: { } cause } && MayPass(cause));

    /// <param name="whole">Committed with it, before the file goes.</param>
    private void Finish(ImportRecord import, ImportState state, string? fault, IDbContextTransaction? whole = null)
    {
        db.ChangeTracker.Clear();
        (import.State, import.Fault, import.BytesRead) = (state, fault, import.Bytes);
        var stored = import.StoredAs!;
        import.StoredAs = null;
        db.Update(import);
        if (state == ImportState.Done && import.Kind.IsOutside())
        {
            using var file = File.OpenRead(Path.Combine(place.Uploads, stored));
            asTheyCame.Keep(import, file);
        }
        db.SaveChanges();
        whole?.Commit();
        File.Delete(Path.Combine(place.Uploads, stored));
    }

    /// <summary>Takes rows that were corrected in quarantine, as one batch of the import they came with.</summary>
    /// <param name="isDecided">Whether a person has looked at them.</param>
    internal void TakeCorrected(ImportRecord import, IReadOnlyList<CsvRow> rows, bool isDecided)
    {
        foreach (var batch in rows.InGroups(import.Kind, Reader()).Chunk(LargestBatch)) Take(import, batch, isDecided);
        if (import.Kind.IsOutside()) FinishOutside(import);
    }

    internal GroupReader Reader() => new(cache.Get(db).Rules, HeldOrder);

    private Order? HeldOrder(OrderId id)
    {
        var record = db.Orders.AsNoTracking().WithParts().FirstOrDefault(o => o.OrderId == id.Value);
        return record is null ? null : OrderFacts.ToOrder(record);
    }

    private void StartOver(ImportRecord import)
    {
        db.Quarantine.Where(q => q.ImportId == import.Id).ExecuteDelete();
        import.State = ImportState.Running;
        (import.Rows, import.Added, import.Changed, import.Unchanged, import.Quarantined, import.BytesRead) = (0, 0, 0, 0, 0, 0);
        db.SaveChanges();
    }

    private void Take(ImportRecord import, IReadOnlyList<IRowGroup> batch, bool isDecided = false)
    {
        // What was worked out for one batch is of no use to the next; only the import itself is carried on.
        db.ChangeTracker.Clear();
        db.Attach(import);
        // Corrected rows come in the transaction that takes them out of quarantine.
        using var transaction = db.BeginUnlessBegun();
        // From here on others wait; not while this waits for its own turn.
        var watch = Stopwatch.StartNew();
        var book = cache.Get(db);
        var posting = new OrderPosting(db, book, clock.Today);
        var intake = new Intake(db, book, posting, import, unknown, isDecided);
        intake.Orders(batch.OfType<ReadOrder>());
        intake.Refunds(batch.OfType<ReadRefund>());
        intake.Clicks(batch.OfType<ReadClick>());
        outside.Take(import, [.. batch.OfType<ReadOutside>()]);
        new SetAside(db, import).Take(batch);
        db.Update(import);
        db.SaveChanges();
        // Whoever waits is let in by this; with nobody there, large batches cost less.
        var isWaitedFor = writers.Waiting > 0;
        transaction?.Commit();
        if (import.Kind.IsOutside()) return;
        _batch = isWaitedFor ? Math.Clamp((int)(batch.Count * (Wanted / watch.Elapsed)), SmallestBatch, LargestBatch) : Math.Min(LargestBatch, _batch * 2);
    }
}
