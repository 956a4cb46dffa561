using System.Globalization;
using System.IO.Compression;
using System.Text;
using System.Xml;
using CsvHelper;
using CsvHelper.Configuration;
using EvenSplit.Formats.Csv;
using ExcelDataReader;

namespace EvenSplit.Formats.Shops;

/// <summary>Reads the first table of a spreadsheet (.xlsx or .ods) as CSV, so that one reader takes every file.</summary>
public static class SpreadsheetText
{
    /// <summary>Both are archives; what they may hold unpacked, so that a small file cannot fill the memory.</summary>
    private const long MostUnpacked = 512L * 1024 * 1024;
    private const int MostColumns = 1000;
    private const string Office = "urn:oasis:names:tc:opendocument:xmlns:office:1.0";
    private const string Table = "urn:oasis:names:tc:opendocument:xmlns:table:1.0";
    private const string TextNames = "urn:oasis:names:tc:opendocument:xmlns:text:1.0";

    // The reader asks for the encodings of older workbooks before it knows that it has a new one.
    static SpreadsheetText() => Encoding.RegisterProvider(CodePagesEncodingProvider.Instance);

    /// <summary>The file itself where it is text; else its first table, as CSV with a comma.</summary>
    /// <param name="file">At its start, and able to go back there.</param>
    /// <exception cref="CsvFileException">It is an archive but no spreadsheet, too large, or damaged.</exception>
    public static Stream OrSame(Stream file)
    {
        Span<byte> head = stackalloc byte[4];
        var start = file.Position;
        var length = file.ReadAtLeast(head, head.Length, throwOnEndOfStream: false);
        file.Position = start;
        if (length < 4 || !head.SequenceEqual("PK\u0003\u0004"u8)) return file;
        try
        {
            using var archive = new ZipArchive(file, ZipArchiveMode.Read, leaveOpen: true);
            if (archive.Entries.Sum(e => e.Length) > MostUnpacked) throw new CsvFileException($"The spreadsheet is larger than {MostUnpacked / 1024 / 1024} MB unpacked; save its table as CSV.");
            if (archive.GetEntry("content.xml") is { } content) return Written(OdsRows(content));
            if (archive.GetEntry("xl/workbook.xml") is null) throw new CsvFileException("This is no spreadsheet that can be read here; save the table as .xlsx, .ods or CSV.");
            file.Position = start;
            return Written(XlsxRows(file));
        }
        catch (Exception damaged) when (damaged is InvalidDataException or XmlException or ExcelDataReader.Exceptions.ExcelReaderException or FormatException or OverflowException)
        {
            throw new CsvFileException("The spreadsheet is damaged; open it, save it again, and bring that in.");
        }
    }

    private static FileStream Written(IEnumerable<IReadOnlyList<string>> rows)
    {
        var file = new FileStream(Path.GetTempFileName(), new FileStreamOptions { Mode = FileMode.Create, Access = FileAccess.ReadWrite, Options = FileOptions.DeleteOnClose });
        using (var writer = new StreamWriter(file, leaveOpen: true))
        using (var csv = new CsvWriter(writer, new CsvConfiguration(CultureInfo.InvariantCulture)))
        {
            var width = 0;
            foreach (var row in rows)
            {
                var filled = row.Count - row.Reverse().TakeWhile(c => c.Length == 0).Count();
                // A title over the table has a cell of its own; the header is the first row with more.
                if (width == 0 && filled < 2) continue;
                if (filled == 0) continue;
                width = Math.Max(width, width == 0 ? filled : 0);
                for (var i = 0; i < width; i++) csv.WriteField(i < row.Count ? row[i] : "");
                csv.NextRecord();
            }
        }
        file.Position = 0;
        return file;
    }

    private static IEnumerable<IReadOnlyList<string>> XlsxRows(Stream file)
    {
        using var reader = ExcelReaderFactory.CreateOpenXmlReader(file, new ExcelReaderConfiguration { LeaveOpen = true });
        while (reader.Read())
        {
            var row = new string[Math.Min(reader.FieldCount, MostColumns)];
            for (var i = 0; i < row.Length; i++)
            {
                row[i] = reader.GetValue(i) switch
                {
                    null => "",
                    DateTime at => At(at),
                    // A number of a spreadsheet has some fifteen digits; what is beyond them is how it is kept, not what was typed.
                    double number => Number(number),
                    bool isSo => isSo ? "yes" : "no",
                    var other => Convert.ToString(other, CultureInfo.InvariantCulture)!.Trim(),
                };
            }
            yield return row;
        }
    }

    private static IEnumerable<IReadOnlyList<string>> OdsRows(ZipArchiveEntry content)
    {
        using var reader = XmlReader.Create(content.Open(), new XmlReaderSettings { DtdProcessing = DtdProcessing.Prohibit, XmlResolver = null, MaxCharactersInDocument = MostUnpacked });
        if (!reader.ReadToFollowing("table", Table)) throw new InvalidDataException("no table");
        using var table = reader.ReadSubtree();
        while (table.ReadToFollowing("table-row", Table))
        {
            var times = Repeated(table, "number-rows-repeated");
            var row = OdsRow(table);
            // What is repeated to the sheet's end is empty.
            for (var i = 0; i < (row.Count == 0 ? 1 : Math.Min(times, 10_000)); i++) yield return row;
        }
    }

    private static List<string> OdsRow(XmlReader table)
    {
        var cells = new List<string>();
        using var row = table.ReadSubtree();
        row.Read();
        while (row.Read())
        {
            if (row.NodeType != XmlNodeType.Element || row.LocalName is not ("table-cell" or "covered-table-cell") || row.NamespaceURI != Table) continue;
            var times = Repeated(row, "number-columns-repeated");
            var (type, value, date, isSo) = (row.GetAttribute("value-type", Office), row.GetAttribute("value", Office), row.GetAttribute("date-value", Office), row.GetAttribute("boolean-value", Office));
            var text = Paragraphs(row);
            var cell = type switch
            {
                "float" or "currency" or "percentage" when value is not null => Number(double.Parse(value, CultureInfo.InvariantCulture)),
                "date" when date is not null => At(DateTime.Parse(date, CultureInfo.InvariantCulture)),
                "boolean" => isSo == "true" ? "yes" : "no",
                _ => text,
            };
            if (cell.Length == 0 && times > MostColumns) break;
            for (var i = 0; i < times && cells.Count < MostColumns; i++) cells.Add(cell);
        }
        while (cells is [.., ""]) cells.RemoveAt(cells.Count - 1);
        return cells;
    }

    private static string Paragraphs(XmlReader cell)
    {
        if (cell.IsEmptyElement) return "";
        var lines = new List<string>();
        using var inside = cell.ReadSubtree();
        inside.Read();
        while (inside.Read())
        {
            if (inside.NodeType == XmlNodeType.Element && inside.LocalName == "p" && inside.NamespaceURI == TextNames)
            {
                using var paragraph = inside.ReadSubtree();
                var line = new StringBuilder();
                while (paragraph.Read())
                {
                    if (paragraph.NodeType is XmlNodeType.Text or XmlNodeType.SignificantWhitespace or XmlNodeType.Whitespace) line.Append(paragraph.Value);
                }
                lines.Add(line.ToString());
            }
        }
        return string.Join(' ', lines).Trim();
    }

    private static int Repeated(XmlReader at, string name) => int.TryParse(at.GetAttribute(name, Table), NumberStyles.None, CultureInfo.InvariantCulture, out var times) ? Math.Max(1, times) : 1;

    private static string At(DateTime at) => at.ToString(at.TimeOfDay == TimeSpan.Zero ? "yyyy-MM-dd" : "yyyy-MM-dd HH:mm:ss", CultureInfo.InvariantCulture);

    private static string Number(double number) => ((decimal)number).ToString("0.############", CultureInfo.InvariantCulture);
}
