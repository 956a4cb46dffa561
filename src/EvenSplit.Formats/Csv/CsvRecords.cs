using System.Globalization;
using System.Text;
using CsvHelper;
using CsvHelper.Configuration;
using EvenSplit.Formats.Shops;

namespace EvenSplit.Formats.Csv;

/// <summary>
/// Reads the records of a file, never whole: UTF-8 with or without BOM, or the older Western encoding where it is not UTF-8; comma, semicolon or tab; quoted fields.
/// A spreadsheet is read as the CSV of its first table.
/// </summary>
public sealed class CsvRecords : IDisposable
{
    private const int MaxCell = 16 * 1024;

    /// <summary>What older programs write in Western Europe and America.</summary>
    private static readonly Encoding Western = CodePagesEncodingProvider.Instance.GetEncoding(1252)!;

    private readonly StreamReader _reader;
    private readonly CsvParser _parser;

    /// <exception cref="CsvFileException">It is neither text nor a spreadsheet.</exception>
    public CsvRecords(Stream file)
    {
        var text = SpreadsheetText.OrSame(file);
        _reader = new StreamReader(text, IsUtf8(text) ? new UTF8Encoding(false, false) : Western, detectEncodingFromByteOrderMarks: true, leaveOpen: text == file);
        var head = new char[MaxCell];
        var length = _reader.ReadBlock(head, 0, head.Length);
        var configuration = new CsvConfiguration(CultureInfo.InvariantCulture)
        {
            Delimiter = Delimiter(FirstLine(head.AsSpan(0, length))),
            MaxFieldSize = MaxCell,
            BadDataFound = null,
            IgnoreBlankLines = true,
            BufferSize = 64 * 1024,
        };
        _parser = new CsvParser(new HeadThenRest(head.AsMemory(0, length), _reader), configuration);
    }

    /// <summary>The line of the file the record stands in, from 1.</summary>
    public long Line => _parser.RawRow;

    public string[] Record => _parser.Record!;

    /// <returns>False at the end.</returns>
    /// <exception cref="CsvFileException">A cell has no end.</exception>
    public bool Read()
    {
        try
        {
            return _parser.Read();
        }
        catch (MaxFieldSizeException)
        {
            throw new CsvFileException($"a cell is longer than {MaxCell / 1024} KB; a quote may have been opened and never closed");
        }
    }

    /// <summary>The names of the columns and the first rows under them; a name that comes again is numbered.</summary>
    /// <exception cref="CsvFileException">There is nothing in the file.</exception>
    public FileHead Head(int rows)
    {
        if (!Read()) throw new CsvFileException("The file is empty; its first row names its columns.");
        var header = Numbered(Record);
        var first = new List<string[]>();
        while (first.Count < rows && Read()) first.Add(Record);
        return new FileHead(header, first);
    }

    /// <summary>Names by which columns can be told apart: the second Tax is Tax (2).</summary>
    internal static string[] Numbered(string[] header)
    {
        var times = new Dictionary<string, int>(StringComparer.OrdinalIgnoreCase);
        return [.. header.Select(h => h.Trim()).Select(h => h.Length == 0 || (times[h] = times.GetValueOrDefault(h) + 1) == 1 ? h : $"{h} ({times[h]})")];
    }

    public void Dispose()
    {
        _parser.Dispose();
        _reader.Dispose();
    }

    /// <summary>By its beginning; a character that the beginning cuts in two says nothing.</summary>
    private static bool IsUtf8(Stream text)
    {
        var start = text.Position;
        Span<byte> head = stackalloc byte[MaxCell];
        var length = text.ReadAtLeast(head, head.Length, throwOnEndOfStream: false);
        text.Position = start;
        var end = length;
        while (length == MaxCell && end > length - 4 && (head[end - 1] & 0x80) != 0) end--;
        return head.StartsWith((ReadOnlySpan<byte>)[0xFF, 0xFE]) || head.StartsWith((ReadOnlySpan<byte>)[0xFE, 0xFF]) || System.Text.Unicode.Utf8.IsValid(head[..end]);
    }

    private static ReadOnlySpan<char> FirstLine(ReadOnlySpan<char> head)
    {
        var end = head.IndexOfAny('\r', '\n');
        var first = end < 0 ? head : head[..end];
        // Noise may have an end of line before its first control character, so all of the beginning is looked at.
        if (head.ContainsAnyInRange('\0', '\b')) throw new CsvFileException("This is not a text file. Bring in CSV or a spreadsheet (.xlsx, .ods) with a row of column names first.");
        // A row of names is short; what goes on for this long is something else.
        if (end < 0 && head.Length == MaxCell) throw new CsvFileException("The file has no row of column names at its beginning.");
        return first;
    }

    private static string Delimiter(ReadOnlySpan<char> header)
    {
        var (best, most) = (',', 0);
        foreach (var candidate in ",;\t")
        {
            var count = header.Count(candidate);
            if (count > most) (best, most) = (candidate, count);
        }
        return best.ToString();
    }

    /// <summary>Gives back what was read ahead to find the separator, then the rest of the file.</summary>
    private sealed class HeadThenRest(ReadOnlyMemory<char> head, TextReader rest) : TextReader
    {
        private int _position;

        public override int Read(char[] buffer, int index, int count)
        {
            if (_position >= head.Length) return rest.Read(buffer, index, count);
            var taken = Math.Min(count, head.Length - _position);
            head.Span.Slice(_position, taken).CopyTo(buffer.AsSpan(index));
            _position += taken;
            return taken;
        }
    }
}
