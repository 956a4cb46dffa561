using System.Security.Cryptography;
using System.Text.Json;
using ICSharpCode.SharpZipLib;
using ICSharpCode.SharpZipLib.Zip;

namespace EvenSplit.Books.Backups;

/// <summary>What a backup holds: every file with its length and SHA-256, in hexadecimal digits.</summary>
internal sealed record BackupManifest(string Format, string Book, DateTimeOffset At, IReadOnlyList<BackedUp> Files)
{
    public const string Known = "evensplit-backup-1";
}

/// <summary>A file by its name within the book's folder.</summary>
internal sealed record BackedUp(string Name, long Length, string Hash);

/// <summary>The file a book is backed up in: a ZIP archive encrypted with AES-256, which any program for that format opens with the passphrase.</summary>
internal static class BackupFile
{
    private const string ManifestName = "manifest.json";

    public static void Write(string path, string passphrase, string book, DateTimeOffset at, IEnumerable<(string Name, string File)> files)
    {
        using var archive = new ZipOutputStream(File.Create(path)) { Password = passphrase, UseZip64 = UseZip64.On };
        archive.SetLevel(3);
        var written = new List<BackedUp>();
        foreach (var (name, file) in files)
        {
            using var content = File.OpenRead(file);
            written.Add(Add(archive, name, content));
        }
        using var manifest = new MemoryStream(JsonSerializer.SerializeToUtf8Bytes(new BackupManifest(BackupManifest.Known, book, at, written)));
        Add(archive, ManifestName, manifest);
    }

    /// <summary>Takes everything out into a folder, and holds it against the manifest.</summary>
    /// <exception cref="RefusedException">The passphrase does not open it, it is no backup, or something in it is not what it was.</exception>
    public static BackupManifest Extract(string path, string passphrase, string folder)
    {
        try
        {
            using var archive = new ZipFile(path) { Password = passphrase };
            var manifest = Manifest(archive);
            foreach (var file in manifest.Files)
            {
                if (file.Name.Split('/').Any(p => p is "" or "." or "..") || Path.IsPathRooted(file.Name)) throw new RefusedException($"The backup names a file outside the book, {file.Name}; it was not made by this application.");
                if (archive.GetEntry(file.Name) is not { } entry) throw new RefusedException($"The backup lacks {file.Name}.");
                var target = Path.Combine(folder, file.Name);
                Directory.CreateDirectory(Path.GetDirectoryName(target)!);
                using (var content = archive.GetInputStream(entry))
                using (var output = File.Create(target))
                {
                    content.CopyTo(output);
                }
                using var read = File.OpenRead(target);
                if (read.Length != file.Length || Convert.ToHexStringLower(SHA256.HashData(read)) != file.Hash) throw new RefusedException($"{file.Name} in the backup is not what it was when it was made.");
            }
            return manifest;
        }
        // Damaged data lets the reader of archives fail in whatever way it happens to.
        catch (Exception fault) when (fault is SharpZipBaseException or JsonException or InvalidDataException or EndOfStreamException or IndexOutOfRangeException or ArgumentException or ArithmeticException)
        {
            throw new RefusedException("The passphrase does not open this file, or it is no backup of a book, or it is damaged.");
        }
    }

    private static BackupManifest Manifest(ZipFile archive)
    {
        if (archive.GetEntry(ManifestName) is not { } entry) throw new RefusedException("This file is no backup of a book, or it is not whole.");
        using var content = archive.GetInputStream(entry);
        return JsonSerializer.Deserialize<BackupManifest>(content) is { Format: BackupManifest.Known } manifest
            ? manifest
            : throw new RefusedException("This backup is of a format that this version does not know.");
    }

    private static BackedUp Add(ZipOutputStream archive, string name, Stream content)
    {
        archive.PutNextEntry(new ZipEntry(name) { AESKeySize = 256, DateTime = DateTime.UtcNow });
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        var room = new byte[128 * 1024];
        long length = 0;
        int read;
        while ((read = content.Read(room)) > 0)
        {
            hash.AppendData(room, 0, read);
            archive.Write(room, 0, read);
            length += read;
        }
        archive.CloseEntry();
        return new BackedUp(name, length, Convert.ToHexStringLower(hash.GetHashAndReset()));
    }
}
