using System.IO.Compression;
using System.Security.Cryptography;
using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Reconcile;

/// <summary>
/// Keeps what processors, banks and partners sent as it came, byte for byte: packed, below the book's folder, under the SHA-256 that the book has of it (reconcile contract, section 7).
/// </summary>
public sealed class FilesAsTheyCame(BookDbContext db, BookPlace place) : IUseCase
{
    private const string Ending = ".gz";

    /// <summary>Keeps a file that was taken. It lies on disk before the caller's transaction is committed; one that comes to nothing leaves a file that no row names.</summary>
    internal void Keep(ImportRecord import, Stream content)
    {
        content.Position = 0;
        var hash = Convert.ToHexStringLower(SHA256.HashData(content));
        content.Position = 0;
        var path = PathOf(hash);
        Directory.CreateDirectory(place.AsTheyCame);
        // Written again where it is there already: one that was damaged is whole after that.
        using (var file = File.Create(path + ".part"))
        {
            using (var packed = new GZipStream(file, CompressionLevel.Fastest, leaveOpen: true)) content.CopyTo(packed);
            file.Flush(flushToDisk: true);
        }
        File.Move(path + ".part", path, overwrite: true);
        db.OutsideFiles.Add(new OutsideFileRecord { ImportId = import.Id, Hash = hash, Bytes = content.Length });
    }

    /// <summary>Whether the file of an import was kept: its lines came in with it, and it is younger than the keeping of files.</summary>
    public bool IsKept(int importId) => db.OutsideFiles.Any(f => f.ImportId == importId);

    /// <summary>A file as it came; null where none was kept or it is gone.</summary>
    public Stream? Open(int importId) => db.OutsideFiles.AsNoTracking().FirstOrDefault(f => f.ImportId == importId) is { } file ? Open(file) : null;

    /// <exception cref="InvalidDataException">Thrown on reading where the packed file is damaged.</exception>
    internal Stream? Open(OutsideFileRecord file) =>
        File.Exists(PathOf(file.Hash)) ? new GZipStream(File.OpenRead(PathOf(file.Hash)), CompressionMode.Decompress) : null;

    /// <summary>What a kept file is called among the others.</summary>
    internal static string NameOf(ImportRecord import) => FormattableString.Invariant($"{import.Id}-{string.Concat(import.FileName.Select(c => char.IsLetterOrDigit(c) || c is '.' or '-' or '_' ? c : '-'))}");

    private string PathOf(string hash) => Path.Combine(place.AsTheyCame, hash + Ending);
}
