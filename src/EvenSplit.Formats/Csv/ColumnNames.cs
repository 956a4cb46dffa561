namespace EvenSplit.Formats.Csv;

/// <summary>What somebody else's files call our columns. Written a line each: <c>quantity = Qty</c>.</summary>
public sealed class ColumnNames
{
    private readonly IReadOnlyDictionary<string, string> _ours;

    private ColumnNames(IReadOnlyDictionary<string, string> ours) => _ours = ours;

    public static ColumnNames Ours { get; } = new(new Dictionary<string, string>());

    /// <param name="text">Lines of our column, an equals sign, and theirs.</param>
    /// <param name="fault">What is wrong with a line, in a sentence.</param>
    public static bool TryParse(string text, CsvColumns columns, out ColumnNames names, out string fault)
    {
        var ours = new Dictionary<string, string>(StringComparer.OrdinalIgnoreCase);
        (names, fault) = (Ours, "");
        foreach (var line in text.Split('\n', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries))
        {
            var equals = line.IndexOf('=', StringComparison.Ordinal);
            var (our, theirs) = equals < 0 ? (line, "") : (line[..equals].Trim(), line[(equals + 1)..].Trim());
            fault = theirs.Length == 0 ? $"'{line}': write our column, an equals sign, and what the file calls it, such as quantity = Qty."
                : !columns.All.Contains(our) ? $"There is no column {our} in a file of {columns.FileKind}."
                : !ours.TryAdd(theirs, our) ? $"'{theirs}' is named twice."
                : ours.Values.Count(o => o == our) > 1 ? $"The column {our} is named twice."
                : "";
            if (fault.Length > 0) return false;
        }
        names = new ColumnNames(ours);
        return true;
    }

    /// <summary>Ours for a column of the file; what is not named stays as it is.</summary>
    public string Ourselves(string theirs) => _ours.GetValueOrDefault(theirs, theirs);
}
