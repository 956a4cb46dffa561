using System.Buffers;

namespace EvenSplit.Formats.Scenarios;

/// <summary>
/// Text that waits to be written: in memory where it is little, else in a file without a name, which nobody else can open and which goes with the process at the latest.
/// </summary>
internal sealed class WaitingText : IDisposable
{
    /// <summary>So many bytes stay in memory, and are written to the file at a time.</summary>
    private const int Portion = 1 << 18;

    /// <summary>A file of no more bytes is read at once, however short the pieces are that are asked for.</summary>
    private const int ReadAtOnce = 1 << 25;

    private readonly JsonText _last = new();
    private FileStream? _file;
    private long _inFile;
    private byte[]? _read;

    /// <summary>How much there is, in bytes.</summary>
    public long Length => _inFile + _last.Written.Length;

    /// <summary>Where the next text goes. Asked for anew for each item.</summary>
    /// <exception cref="IOException">The file cannot be made or written.</exception>
    public JsonText Next()
    {
        if (_last.Written.Length < Portion) return _last;
        _file ??= WithoutName();
        RandomAccess.Write(_file.SafeFileHandle, _last.Written, _inFile);
        _inFile += _last.Written.Length;
        _last.Clear();
        return _last;
    }

    /// <summary>Copies some of it, once there is no more to come.</summary>
    /// <param name="start">The first byte, from 0.</param>
    /// <exception cref="IOException">The file cannot be read, or the output cannot be written.</exception>
    public void CopyTo(Stream output, long start, long length)
    {
        if (start < _inFile && _inFile <= ReadAtOnce)
        {
            if (_read is null) ReadFrom(0, _read = ArrayPool<byte>.Shared.Rent((int)_inFile), (int)_inFile);
            var inFile = (int)Math.Min(length, _inFile - start);
            output.Write(_read, (int)start, inFile);
            (start, length) = (start + inFile, length - inFile);
        }
        while (length > 0 && start < _inFile)
        {
            var piece = (int)Math.Min(Math.Min(length, _inFile - start), Portion);
            ReadFrom(start, _read ??= ArrayPool<byte>.Shared.Rent(Portion), piece);
            output.Write(_read, 0, piece);
            (start, length) = (start + piece, length - piece);
        }
        if (length > 0) output.Write(_last.Written.Slice((int)(start - _inFile), (int)length));
    }

    private void ReadFrom(long start, byte[] into, int length)
    {
        for (var done = 0; done < length;)
        {
            var read = RandomAccess.Read(_file!.SafeFileHandle, into.AsSpan(done, length - done), start + done);
            if (read == 0) throw new EndOfStreamException();
            done += read;
        }
    }

    private static FileStream WithoutName()
    {
        var path = Path.Combine(Path.GetTempPath(), Path.GetRandomFileName());
        var options = new FileStreamOptions { Mode = FileMode.CreateNew, Access = FileAccess.ReadWrite, BufferSize = 0 };
        if (!OperatingSystem.IsWindows()) options.UnixCreateMode = UnixFileMode.UserRead | UnixFileMode.UserWrite;
        var file = new FileStream(path, options);
        File.Delete(path);
        return file;
    }

    public void Dispose()
    {
        _file?.Dispose();
        if (_read is not null) ArrayPool<byte>.Shared.Return(_read);
        _read = null;
    }
}
