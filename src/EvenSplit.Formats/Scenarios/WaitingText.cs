using Microsoft.Win32.SafeHandles;

namespace EvenSplit.Formats.Scenarios;

/// <summary>
/// Text that waits to be written: in memory where it is little, else in a file for the time being, which nobody else may open and which goes with it.
/// </summary>
internal sealed class WaitingText : IDisposable
{
    /// <summary>So much stays in memory, and is written to the file at a time.</summary>
    private const int Portion = 1 << 20;

    private readonly JsonText _last = new();
    private SafeFileHandle? _file;
    private long _inFile;
    private byte[] _copied = [];

    /// <summary>How much there is, in bytes.</summary>
    public long Length => _inFile + _last.Written.Length;

    /// <summary>Where the next text goes. Asked for anew for each item.</summary>
    /// <exception cref="IOException">The file cannot be made or written.</exception>
    public JsonText Next()
    {
        if (_last.Written.Length < Portion) return _last;
        _file ??= File.OpenHandle(Path.Combine(Path.GetTempPath(), Path.GetRandomFileName()), FileMode.CreateNew, FileAccess.ReadWrite, FileShare.None, FileOptions.DeleteOnClose);
        RandomAccess.Write(_file, _last.Written, _inFile);
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
            var read = RandomAccess.Read(_file!, _copied.AsSpan(0, (int)Math.Min(Math.Min(length, _inFile - start), Portion)), start);
            output.Write(_copied, 0, read);
            (start, length) = (start + read, length - read);
        }
        if (length > 0) output.Write(_last.Written.Slice((int)(start - _inFile), (int)length));
    }

    public void Dispose() => _file?.Dispose();
}
