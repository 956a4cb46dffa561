namespace EvenSplit.Formats.Scenarios;

/// <summary>
/// Text that waits to be written: in memory where it is little, else in a file without a name, which nobody else can open and which goes with the process at the latest.
/// </summary>
internal sealed class WaitingText : IDisposable
{
    /// <summary>So much stays in memory, and is written to the file at a time.</summary>
    private const int Portion = 1 << 20;

    private readonly JsonText _last = new();
    private FileStream? _file;
    private long _inFile;
    private byte[] _copied = [];

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

    /// <summary>Copies some of it.</summary>
    /// <param name="start">The first byte, from 0.</param>
    public void CopyTo(Stream output, long start, long length)
    {
        if (_copied.Length == 0 && start < _inFile) _copied = new byte[Portion];
        while (length > 0 && start < _inFile)
        {
            var read = RandomAccess.Read(_file!.SafeFileHandle, _copied.AsSpan(0, (int)Math.Min(Math.Min(length, _inFile - start), Portion)), start);
            output.Write(_copied, 0, read);
            (start, length) = (start + read, length - read);
        }
        if (length > 0) output.Write(_last.Written.Slice((int)(start - _inFile), (int)length));
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

    public void Dispose() => _file?.Dispose();
}
