using EvenSplit.Formats.Shops;

namespace EvenSplit.Formats.Csv;

/// <summary>A file as a whole cannot be read: nothing of it was taken. The message says what to do.</summary>
public sealed class CsvFileException(string message) : Exception(message);

/// <summary>What a table of one kind looks like: its columns, and which of them a file must have.</summary>
public sealed record CsvColumns(string FileKind, IReadOnlyList<string> Required, IReadOnlyList<string> Optional)
{
    public IEnumerable<string> All => Required.Concat(Optional);

    /// <summary>What every row of one order or refund says the same of it, beside its id; none where each row stands for itself.</summary>
    public IReadOnlyList<string> OfWhole { get; init; } = [];

    /// <summary>The same for a file that has not said everything yet: some columns need not be there.</summary>
    public CsvColumns Without(IReadOnlyCollection<string> missing) => this with { Required = [.. Required.Except(missing)], Optional = [.. Optional, .. missing] };
}

/// <summary>One row: its line in the file (from 1, the header counted) and the cells of the known columns.</summary>
public sealed record CsvRow(long Line, IReadOnlyDictionary<string, string> Cells)
{
    /// <summary>The trimmed cell; empty where the file has no such column.</summary>
    public string this[string column] => Cells.GetValueOrDefault(column, "");

    /// <summary>Cells that are not written as the file was said to write them, with what was expected.</summary>
    public IReadOnlyDictionary<string, string> Misread { get; init; } = NothingMisread;

    private static readonly Dictionary<string, string> NothingMisread = [];

    /// <summary>Why the row cannot be read at all; null where it can.</summary>
    public string? Damage { get; init; }
}

/// <summary>Reads a file row by row, never whole: header names in any order and case, by our names or as a layout says.</summary>
public sealed class CsvTable : IDisposable
{
    private readonly CsvRecords _records;
    private readonly string[][] _columns;
    private readonly RowShaper? _shaper;

    /// <param name="layout">How the file says what ours say; null where it is one of ours.</param>
    /// <exception cref="CsvFileException">No table of this kind: damaged, empty, or without a required column.</exception>
    public CsvTable(Stream file, CsvColumns columns, FileLayout? layout = null)
    {
        _records = new CsvRecords(file);
        if (!_records.Read()) throw new CsvFileException($"The file is empty; a file of {columns.FileKind} starts with a row of column names.");
        (_columns, ExtraColumns) = MatchHeader(layout is { IsOurs: false } ? CsvRecords.Numbered(_records.Record) : _records.Record, columns, layout ?? FileLayout.Ours);
        if (layout is { IsOurs: false }) _shaper = new RowShaper(layout, columns);
    }

    /// <summary>The known columns that the file has.</summary>
    public IEnumerable<string> Columns => _columns.SelectMany(c => c);

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
                more = _records.Read();
            }
            catch (CsvFileException tooLong)
            {
                damage = tooLong.Message;
            }
            if (damage is not null)
            {
                yield return new CsvRow(_records.Line, new Dictionary<string, string>()) { Damage = damage };
                yield break;
            }
            if (!more) yield break;
            var row = ToRow(_records.Record);
            yield return _shaper?.Shape(row) ?? row;
        }
    }

    public void Dispose()
    {
        _records.Dispose();
    }

    private CsvRow ToRow(string[] record)
    {
        var cells = new Dictionary<string, string>(_columns.Length);
        var unreadable = false;
        for (var i = 0; i < record.Length && i < _columns.Length; i++)
        {
            if (_columns[i].Length == 0) continue;
            var cell = record[i].Trim();
            unreadable |= cell.Contains('\uFFFD');
            if (cell.Length == 0) continue;
            foreach (var column in _columns[i]) cells[column] = cell;
        }
        var damage = record.Length < _columns.Length
            ? $"the row ends after {record.Length} of {_columns.Length} columns; the file seems to be cut off here"
            : record.Length > _columns.Length
                ? $"the row has {record.Length} cells for {_columns.Length} columns; a cell with the separator in it needs quotes"
                : unreadable ? "some characters are not UTF-8; save the file as UTF-8" : null;
        return new CsvRow(_records.Line, cells) { Damage = damage };
    }

    private static string NoColumns(CsvColumns columns) =>
        $"The first row has none of the columns of a file of {columns.FileKind}. It should name at least: {string.Join(", ", columns.Required)}.";

    private static (string[][] Columns, IReadOnlyList<string> Extra) MatchHeader(string[] header, CsvColumns columns, FileLayout layout)
    {
        var known = columns.All.ToDictionary(c => c, StringComparer.OrdinalIgnoreCase);
        var matched = new string[header.Length][];
        var found = new HashSet<string>();
        var extra = new List<string>();
        for (var i = 0; i < header.Length; i++)
        {
            var name = header[i].Trim();
            matched[i] = [.. layout.Ourselves(name).Select(n => known.GetValueOrDefault(n)).OfType<string>()];
            if (Array.Find(matched[i], c => !found.Add(c)) is { } twice) throw new CsvFileException($"The column '{twice}' is there twice.");
            if (matched[i].Length == 0 && name.Length > 0) extra.Add(name);
        }
        var missing = columns.Required.Where(r => !found.Contains(r) && !layout.Always.ContainsKey(r) && !(layout.NumbersLines && r == "line_id")).ToArray();
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
}
