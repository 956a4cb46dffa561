using System.Buffers;
using System.IO.MemoryMappedFiles;
using Microsoft.Win32.SafeHandles;

namespace EvenSplit.Formats.Scenarios;

/// <summary>A large file's bytes where the system has them: no copy of them is made, and let go they take no memory at once.</summary>
internal sealed unsafe class MappedFile : MemoryManager<byte>
{
    private readonly MemoryMappedFile _file;
    private readonly MemoryMappedViewAccessor _view;
    private readonly byte* _start;
    private readonly int _length;

    /// <param name="length">Of the whole file, in bytes; more than 0.</param>
    /// <exception cref="IOException">The file cannot be read so.</exception>
    public MappedFile(SafeFileHandle file, int length)
    {
        _length = length;
        _file = MemoryMappedFile.CreateFromFile(file, mapName: null, capacity: 0, MemoryMappedFileAccess.Read, HandleInheritability.None, leaveOpen: true);
        _view = _file.CreateViewAccessor(0, length, MemoryMappedFileAccess.Read);
        _view.SafeMemoryMappedViewHandle.AcquirePointer(ref _start);
    }

    public override Span<byte> GetSpan() => new(_start, _length);

    public override MemoryHandle Pin(int elementIndex = 0) => new(_start + elementIndex);

    public override void Unpin()
    {
    }

    protected override void Dispose(bool disposing)
    {
        _view.SafeMemoryMappedViewHandle.ReleasePointer();
        _view.Dispose();
        _file.Dispose();
    }
}
