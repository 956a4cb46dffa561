using EvenSplit.Books.Model;
using EvenSplit.Formats.Csv;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Importing;

/// <summary>Takes files in: keeps each one, notes it, and reads it when its turn comes.</summary>
public sealed class ImportFiles(BookDbContext db, BookPlace place, BookClock clock, AuditLog audit) : IUseCase
{
    public const long MaxBytes = 500L * 1024 * 1024;

    /// <summary>Sources whose files call columns otherwise, as they are remembered.</summary>
    public IReadOnlyList<FileSourceRecord> Sources() => db.FileSources.AsNoTracking().OrderBy(s => s.Name).ThenBy(s => s.Kind).ToArray();

    /// <summary>Remembers what a source's files call our columns, and gives it; nothing typed gives what is remembered.</summary>
    /// <param name="source">The shop or system; empty remembers nothing.</param>
    /// <param name="columnNames">A line each, as <see cref="ColumnNames"/> reads them.</param>
    /// <exception cref="RefusedException">A line cannot be read.</exception>
    public string Remember(ImportKind kind, string source, string columnNames, string by)
    {
        var (name, typed) = (source.Trim(), columnNames.Replace("\r", "", StringComparison.Ordinal).Trim());
        if (!ColumnNames.TryParse(typed, kind.Columns(), out _, out var fault)) throw new RefusedException(fault, "ColumnNames");
        if (name.Length == 0) return typed;
        var known = db.FileSources.Where(s => s.Kind == kind).AsEnumerable().FirstOrDefault(s => string.Equals(s.Name, name, StringComparison.OrdinalIgnoreCase));
        if (typed.Length == 0) return known?.ColumnNames ?? "";
        if (known is null) db.FileSources.Add(new FileSourceRecord { Name = name, Kind = kind, ColumnNames = typed });
        else known.ColumnNames = typed;
        audit.Note(by, "remember columns", $"{name}, {kind.ToString().ToLowerInvariant()}");
        db.SaveChanges();
        return typed;
    }

    /// <summary>Keeps a copy of the file below the book's folder and queues it.</summary>
    /// <param name="columnNames">What the file calls our columns, as <see cref="Remember"/> gave it.</param>
    /// <returns>The import's id.</returns>
    /// <exception cref="RefusedException">The file is empty or larger than <see cref="MaxBytes"/>.</exception>
    public async Task<int> QueueAsync(ImportKind kind, string fileName, Stream content, string by, string columnNames = "", CancellationToken cancellation = default)
    {
        var storedAs = $"{Guid.NewGuid():N}.csv";
        var path = Path.Combine(place.Uploads, storedAs);
        long bytes;
        // Under another name until it is whole, so that what a stop cut off is known and swept.
        var part = path + ".part";
        try
        {
            await using var file = File.Create(part);
            await content.CopyToAsync(file, cancellation);
            bytes = file.Length;
        }
        catch
        {
            File.Delete(part);
            throw;
        }
        File.Move(part, path);
        if (bytes is 0 or > MaxBytes)
        {
            File.Delete(path);
            throw new RefusedException(bytes == 0 ? "The file is empty." : $"The file is larger than {MaxBytes / 1024 / 1024} MB.", "File");
        }
        var import = new ImportRecord
        {
            Kind = kind,
            // Of a path on any system only the last part is a name.
            FileName = fileName[(fileName.LastIndexOfAny(['/', '\\']) + 1)..],
            StoredAs = storedAs,
            Bytes = bytes,
            ColumnNames = columnNames,
            By = by,
            At = clock.GetUtcNow(),
        };
        db.Imports.Add(import);
        audit.Note(by, "import", import.FileName);
        await db.SaveChangesAsync(cancellation);
        return import.Id;
    }

    public ImportRecord? Find(int id) => db.Imports.AsNoTracking().FirstOrDefault(i => i.Id == id);

    /// <summary>The latest imports, newest first.</summary>
    public IReadOnlyList<ImportRecord> Latest(int count) => db.Imports.AsNoTracking().OrderByDescending(i => i.Id).Take(count).ToArray();

    /// <summary>The next import that is waiting or was interrupted.</summary>
    public int? NextWaiting() => db.Imports.Where(i => i.State == ImportState.Waiting || i.State == ImportState.Running)
        .OrderBy(i => i.Id).Select(i => (int?)i.Id).FirstOrDefault();
}
