using System.IO.Compression;
using System.Text;
using EvenSplit.Books.Journal;
using EvenSplit.Books.Model;
using EvenSplit.Books.Proofs;
using EvenSplit.Books.Reconcile;
using EvenSplit.Books.Scenarios;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;
using EvenSplit.Formats.Scenarios;

namespace EvenSplit.Books.Auditing;

/// <summary>
/// Everything an auditor needs of some months, as one .zip: the facts, what the book made of them, the journal, the proofs, what came from outside and how it was
/// matched, what was paid, and who did what (reconcile contract, section 7). Works everything out again with nothing but <c>calc</c>.
/// </summary>
public sealed class AuditFolder(BookCache cache, BookDbContext db, BookClock clock, BookFacts facts, BookResults results, JournalExport journal, MonthProof proof, MatchesExport matches, AuditTables tables, AuditPayments payments, FilesAsTheyCame files) : IUseCase
{
    /// <summary>Writes the months from one to another, both included, to a stream that need not seek.</summary>
    /// <exception cref="RefusedException">The last month is before the first.</exception>
    public void Write(Period from, Period to, Stream output)
    {
        if (to.Number < from.Number) throw new RefusedException("The last month is before the first.", "To");
        var (first, last) = (from.FirstDay, to.LastDay);
        journal.Prepare();
        using var zip = new ZipArchive(output, ZipArchiveMode.Create, leaveOpen: true, Encoding.UTF8);
        var held = facts.Read();
        Text(zip, "README.txt", text => text.Write(AuditReadme.For(cache.Get(db).Record.Name, from, to, clock.Today, ScenarioWriter.Unsaid(held))));
        Bytes(zip, "scenario.json", stream => ScenarioWriter.Write(held, stream));
        Bytes(zip, "result.json", stream => ResultWriter.Write(results.Read(), stream));
        foreach (var (name, header, rows) in tables.Of(from, to)) Text(zip, name, text => CsvOutput.Write(text, header, rows));
        Text(zip, "journal.journal", text => journal.WriteText(first, last, text));
        Text(zip, "journal.csv", text => journal.WriteCsv(first, last, text));
        Text(zip, "trial-balance.csv", text => journal.WriteTrialBalance(first, last, text));
        foreach (var month in AuditTables.Months(from, to))
        {
            var view = proof.Of(month);
            Text(zip, $"proof-{month}.csv", text => MonthProof.Write(view, text));
        }
        foreach (var bench in Enum.GetValues<Bench>()) Text(zip, $"matches-{bench.ToString().ToLowerInvariant()}.csv", text => matches.Write(bench, null, text));
        foreach (var import in tables.FilesOf(first, last))
        {
            using var file = files.Open(import.Id);
            if (file is not null) Bytes(zip, AuditTables.KeptAs(import), file.CopyTo);
        }
        foreach (var (name, content) in payments.Of(first, last)) Text(zip, name, text => text.Write(content));
    }

    private static void Text(ZipArchive zip, string name, Action<TextWriter> write) => Bytes(zip, name, stream =>
    {
        using var text = new StreamWriter(stream, new UTF8Encoding(false), 1 << 16, leaveOpen: true);
        write(text);
    });

    private static void Bytes(ZipArchive zip, string name, Action<Stream> write)
    {
        using var entry = zip.CreateEntry(name, CompressionLevel.Optimal).Open();
        write(entry);
    }
}
