using System.Security.Cryptography;
using EvenSplit.Books.Importing;
using EvenSplit.Books.Model;
using EvenSplit.Books.Reconcile;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;
using EvenSplit.Formats.Payments;
using EvenSplit.Formats.Shops;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Checking;

/// <summary>Holds the files of processors, banks and partners against what they were, and each line the book has of them against the file it came in.</summary>
internal sealed class FileChecks(BookDbContext db, OpenedBook book, FilesAsTheyCame files)
{
    private const int Batch = 5_000;

    private readonly Comparison _files = new("Files of processors, banks and partners");

    private readonly Comparison _lines = new("Lines against their files");

    private long _kept, _same, _held, _agreed;

    public IEnumerable<CheckLine> Of()
    {
        foreach (var file in db.OutsideFiles.AsNoTracking().OrderBy(f => f.ImportId).ToArray())
        {
            _kept++;
            var import = db.Imports.AsNoTracking().First(i => i.Id == file.ImportId);
            if (Content(file, import) is not { } content) continue;
            _same++;
            Compare(import, content);
        }
        yield return _files.Line(MoneyWords.Count(_kept, "file"), MoneyWords.Count(_same, "file"));
        yield return _lines.Line(MoneyWords.Count(_held, "line"), MoneyWords.Count(_agreed, "line"));
    }

    /// <summary>The file where it is what it was.</summary>
    private MemoryStream? Content(OutsideFileRecord file, ImportRecord import)
    {
        var content = new MemoryStream();
        try
        {
            using var packed = files.Open(file);
            if (packed is null) return Differs("gone");
            packed.CopyTo(content);
        }
        catch (Exception damage) when (damage is InvalidDataException or IOException)
        {
            return Differs("damaged");
        }
        content.Position = 0;
        var isSame = content.Length == file.Bytes && Convert.ToHexStringLower(SHA256.HashData(content)) == file.Hash;
        content.Position = 0;
        return isSame ? content : Differs("not what it was");

        MemoryStream? Differs(string now)
        {
            _files.Differ(CheckSubject.Nothing, "", $"{import.FileName}, brought in by {import.By} on {book.Time.DateOf(import.At).InWords()}", now, "as it came");
            return null;
        }
    }

    private void Compare(ImportRecord import, MemoryStream content)
    {
        var inFile = new HashSet<long>();
        // What waited was corrected by somebody, or is not in the book.
        var corrected = db.Quarantine.Where(q => q.ImportId == import.Id).Select(q => q.Group).Distinct().ToHashSet(StringComparer.Ordinal);
        foreach (var batch in Read(import, content).Where(g => g.Line is not null && g.Faults.Count == 0 && !corrected.Contains(g.Id)).Chunk(Batch))
        {
            var known = OutsideIntake.Known(db, batch);
            foreach (var line in batch.Select(g => g.Line!))
            {
                _held++;
                var inBook = known.GetValueOrDefault((line.Source, line.LineId));
                if (inBook is not null) inFile.Add(inBook.Id);
                if (inBook is not null && OutsideIntake.SaysTheSame(inBook, line)) _agreed++;
                else Differs(line, inBook is null ? "gone" : OutsideIntake.InWords(inBook), OutsideIntake.InWords(line));
            }
        }
        var taken = db.OutsideLines.AsNoTracking().Where(l => l.ImportId == import.Id).ToArray();
        var others = taken.Where(l => !inFile.Contains(l.Id) && !corrected.Contains(GroupOf(l))).ToArray();
        // Where somebody corrected a line's id, it stands under another than the file has.
        var renamed = db.Quarantine.Where(q => q.ImportId == import.Id && q.State == QuarantineState.Taken).Select(q => q.Group).Distinct().AsEnumerable().Except(taken.Select(GroupOf)).Count();
        if (others.Length <= renamed) return;
        foreach (var line in others)
        {
            _held++;
            Differs(line, OutsideIntake.InWords(line), "not in the file");
        }

        static string GroupOf(OutsideLineRecord line) => $"{line.Source} {line.LineId}";

        void Differs(OutsideLineRecord line, string now, string inTheFile) => _lines.Differ(CheckSubject.Nothing, "", $"{import.FileName}, line {line.LineId} of {line.Source}", now, inTheFile);
    }

    private IEnumerable<ReadOutside> Read(ImportRecord import, MemoryStream content)
    {
        if (import.Kind == ImportKind.Statement && ReadImport.IsXml(content))
        {
            foreach (var group in PaymentMessage.Read(import.FileName, new StreamReader(content).ReadToEnd(), book.Time).Statements.SelectMany(ReadOutside.Of)) yield return group;
            yield break;
        }
        using var table = new CsvTable(content, import.Kind.Columns(), FileLayout.TryParse(import.ColumnNames, import.Kind.Columns(), out var layout, out _) ? layout : null);
        foreach (var group in table.Rows().InGroups(import.Kind, new GroupReader(book.Rules, _ => null)).Cast<ReadOutside>()) yield return group;
    }
}
