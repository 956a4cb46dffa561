using EvenSplit.Books.Model;
using EvenSplit.Formats.Shops;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Importing;

/// <summary>Takes files in: keeps each one, notes it, and reads it when its turn comes.</summary>
public sealed class ImportFiles(BookDbContext db, BookPlace place, BookClock clock, AuditLog audit) : IUseCase
{
    public const long MaxBytes = 500L * 1024 * 1024;

    /// <summary>A file whose columns nobody has said is thrown away after these days.</summary>
    private const int DaysToSayColumns = 7;

    /// <summary>Keeps a copy of the file below the book's folder and queues it.</summary>
    /// <param name="layout">How it says what ours say, as <see cref="FileLayout.ToString"/> writes it; empty where it is one of ours.</param>
    /// <returns>The import's id.</returns>
    /// <exception cref="RefusedException">The file is empty or larger than <see cref="MaxBytes"/>.</exception>
    public async Task<int> QueueAsync(ImportKind kind, string fileName, Stream content, string by, string layout = "", CancellationToken cancellation = default) =>
        (await KeepAsync(kind, ImportState.Waiting, fileName, content, by, layout, cancellation)).Id;

    /// <summary>Keeps a copy of a file of which is not known yet what its columns are.</summary>
    /// <exception cref="RefusedException">The file is empty or larger than <see cref="MaxBytes"/>.</exception>
    internal Task<ImportRecord> KeepUnreadAsync(string fileName, Stream content, string by, CancellationToken cancellation) =>
        KeepAsync(ImportKind.Orders, ImportState.Columns, fileName, content, by, "", cancellation);

    private async Task<ImportRecord> KeepAsync(ImportKind kind, ImportState state, string fileName, Stream content, string by, string layout, CancellationToken cancellation)
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
            State = state,
            // Of a path on any system only the last part is a name.
            FileName = fileName[(fileName.LastIndexOfAny(['/', '\\']) + 1)..],
            StoredAs = storedAs,
            Bytes = bytes,
            ColumnNames = layout,
            By = by,
            At = clock.GetUtcNow(),
        };
        db.Imports.Add(import);
        if (state == ImportState.Waiting) audit.Note(by, "import", import.FileName);
        await db.SaveChangesAsync(cancellation);
        return import;
    }

    public ImportRecord? Find(int id) => db.Imports.AsNoTracking().FirstOrDefault(i => i.Id == id);

    /// <summary>The latest imports, newest first.</summary>
    public IReadOnlyList<ImportRecord> Latest(int count) => db.Imports.AsNoTracking().OrderByDescending(i => i.Id).Take(count).ToArray();

    /// <summary>The next import that is waiting or was interrupted.</summary>
    public int? NextWaiting() => db.Imports.Where(i => i.State == ImportState.Waiting || i.State == ImportState.Running)
        .OrderBy(i => i.Id).Select(i => (int?)i.Id).FirstOrDefault();

    /// <summary>Puts a file away that is not to be read, or is read another way.</summary>
    internal void PutAway(ImportRecord import)
    {
        DeleteUpload(import);
        db.Imports.Remove(import);
    }

    internal void DeleteUpload(ImportRecord import)
    {
        if (import.StoredAs is { } stored) File.Delete(Path.Combine(place.Uploads, stored));
    }

    /// <summary>Throws files away of which nobody has said in a week what their columns are.</summary>
    internal void PutAwayOld()
    {
        var since = clock.GetUtcNow().AddDays(-DaysToSayColumns);
        foreach (var old in db.Imports.Where(i => i.State == ImportState.Columns && i.At < since).ToArray()) PutAway(old);
    }
}
