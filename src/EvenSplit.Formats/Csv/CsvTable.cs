using System.Globalization;
using System.Text;
using CsvHelper;
using CsvHelper.Configuration;

namespace EvenSplit.Formats.Csv;

/// <summary>A file as a whole cannot be read: nothing of it was taken. The message says what to do.</summary>
public sealed class CsvFileException(string message) : Exception(message);

/// <summary>What a table of one kind looks like: its columns, and which of them a file must have.</summary>
public sealed record CsvColumns(string FileKind, IReadOnlyList<string> Required, IReadOnlyList<string> Optional)
{
    public IEnumerable<string> All => Required.Concat(Optional);
}

/// <summary>One row: its line in the file (from 1, the header counted) and the cells of the known columns.</summary>
public sealed record CsvRow(long Line, IReadOnlyDictionary<string, string> Cells)
{
    /// <summary>The trimmed cell; empty where the file has no such column.</summary>
    public string this[string column] => Cells.GetValueOrDefault(column, "");

    /// <summary>Why the row cannot be read at all; null where it can.</summary>
    public string? Damage { get; init; }
}

/// <summary>
/// Reads CSV row by row, never whole: UTF-8 with or without BOM; comma, semicolon or tab; quoted fields; header names in any order and case.
/// </summary>
public sealed class CsvTable : IDisposable
{
    private const int MaxCell = 16 * 1024;

    private readonly StreamReader _reader;
    private readonly CsvParser _parser;
    private readonly string?[] _columns;

    /// <param name="names">What the file calls columns, and which of ours each is; null where it calls them as we do.</param>
    /// <exception cref="CsvFileException">No table of this kind: damaged, empty, or without a required column.</exception>
    public CsvTable(Stream file, CsvColumns columns, ColumnNames? names = null)
    {
        _reader = new StreamReader(file, new UTF8Encoding(false, false), detectEncodingFromByteOrderMarks: true, leaveOpen: true);
        var head = new char[MaxCell];
        var length = _reader.ReadBlock(head, 0, head.Length);
        var first = FirstLine(head.AsSpan(0, length), columns);
        var configuration = new CsvConfiguration(CultureInfo.InvariantCulture)
        {
            Delimiter = Delimiter(first),
            MaxFieldSize = MaxCell,
            BadDataFound = null,
            IgnoreBlankLines = true,
            BufferSize = 64 * 1024,
        };
        _parser = new CsvParser(new HeadThenRest(head.AsMemory(0, length), _reader), configuration);
        if (!ReadRecord()) throw new CsvFileException($"The file is empty; a file of {columns.FileKind} starts with a row of column names.");
        (_columns, ExtraColumns) = MatchHeader(_parser.Record!, columns, names ?? ColumnNames.Ours);
    }

    /// <summary>The known columns that the file has.</summary>
    public IEnumerable<string> Columns => _columns.OfType<string>();

    /// <summary>Columns of the file that nothing reads.</summary>
    public IReadOnlyList<string> ExtraColumns { get; }

    public IEnumerable<CsvRow> Rows()
    {
        while (true)
        {
            string? damage = null;
            var more = false;
            try
            {
                more = ReadRecord();
            }
            catch (CsvFileException tooLong)
            {
                damage = tooLong.Message;
            }
            if (damage is not null)
            {
                yield return new CsvRow(_parser.RawRow, new Dictionary<string, string>()) { Damage = damage };
                yield break;
            }
            if (!more) yield break;
            yield return ToRow(_parser.Record!);
        }
    }

    public void Dispose()
    {
        _parser.Dispose();
        _reader.Dispose();
    }

    private CsvRow ToRow(string[] record)
    {
        var cells = new Dictionary<string, string>(_columns.Length);
        var unreadable = false;
        for (var i = 0; i < record.Length && i < _columns.Length; i++)
        {
            if (_columns[i] is not { } column) continue;
            var cell = record[i].Trim();
            unreadable |= cell.Contains('\uFFFD');
            if (cell.Length > 0) cells[column] = cell;
        }
        var damage = record.Length < _columns.Length
            ? $"the row ends after {record.Length} of {_columns.Length} columns; the file seems to be cut off here"
            : record.Length > _columns.Length
                ? $"the row has {record.Length} cells for {_columns.Length} columns; a cell with the separator in it needs quotes"
                : unreadable ? "some characters are not UTF-8; save the file as UTF-8" : null;
        return new CsvRow(_parser.RawRow, cells) { Damage = damage };
    }

    private bool ReadRecord()
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

    private static ReadOnlySpan<char> FirstLine(ReadOnlySpan<char> head, CsvColumns columns)
    {
        var end = head.IndexOfAny('\r', '\n');
        var first = end < 0 ? head : head[..end];
        if (first.IndexOf('\0') >= 0 || first.IndexOf('\uFFFD') >= 0)
        {
            throw new CsvFileException($"This is not a text file. A file of {columns.FileKind} is CSV in UTF-8, with a row of column names first.");
        }
        // A row of names is short; what goes on for this long is something else.
        if (end < 0 && head.Length == MaxCell) throw new CsvFileException(NoColumns(columns));
        return first;
    }

    private static string NoColumns(CsvColumns columns) =>
        $"The first row has none of the columns of a file of {columns.FileKind}. It should name at least: {string.Join(", ", columns.Required)}.";

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

    private static (string?[] Columns, IReadOnlyList<string> Extra) MatchHeader(string[] header, CsvColumns columns, ColumnNames names)
    {
        var known = columns.All.ToDictionary(c => c, StringComparer.OrdinalIgnoreCase);
        var matched = new string?[header.Length];
        var extra = new List<string>();
        for (var i = 0; i < header.Length; i++)
        {
            var name = names.Ourselves(header[i].Trim());
            if (known.TryGetValue(name, out var column))
            {
                if (matched.Contains(column)) throw new CsvFileException($"The column '{column}' is there twice.");
                matched[i] = column;
            }
            else if (name.Length > 0)
            {
                extra.Add(name);
            }
        }
        var missing = columns.Required.Where(r => !matched.Contains(r)).ToArray();
        if (missing.Length == columns.Required.Count)
        {
            throw new CsvFileException(NoColumns(columns));
        }
        if (missing.Length > 0)
        {
            throw new CsvFileException(string.Join(" ", missing.Select(m => MissingColumn(m, extra))));
        }
        return (matched, extra);
    }

    private static string MissingColumn(string missing, List<string> extra)
    {
        var near = extra.FirstOrDefault(e => Resembles(e, missing));
        return near is null
            ? $"The column '{missing}' is missing."
            : $"The column '{missing}' is missing; there is one called '{near}': is that it? Rename it in the file, or say so beside the file as you bring it in.";
    }

    /// <summary>Shortened or lengthened, but with the letters in the same order: qty for quantity, product_id for product.</summary>
    private static bool Resembles(string name, string column)
    {
        var letters = new string(name.Where(char.IsLetter).ToArray()).ToLowerInvariant();
        var wanted = column.Replace("_", "", StringComparison.Ordinal);
        return letters.Length >= 3 && letters[0] == wanted[0] && (IsWithin(letters, wanted) || IsWithin(wanted, letters));
    }

    private static bool IsWithin(string few, string many)
    {
        var at = 0;
        foreach (var letter in many)
        {
            if (at < few.Length && few[at] == letter) at++;
        }
        return at == few.Length;
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
