using System.IO.Compression;
using System.Text;
using EvenSplit.Books.Auditing;
using EvenSplit.Books.Backups;
using EvenSplit.Books.Checking;
using EvenSplit.Books.Importing;
using EvenSplit.Books.Model;
using EvenSplit.Books.PayRuns;
using EvenSplit.Books.Reconcile;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace EvenSplit.Books.Tests;

/// <summary>What processors, banks and partners sent is kept byte for byte, and the check says which file or line is not what it was.</summary>
public sealed class FilesAsTheyCameTests : IDisposable
{
    private const string Settlement = "settlement_id,settled_on,type,order_id,reference,currency,gross,fee,net\r\nST-1,2026-11-02,sale,A,r1,EUR,100.00,2.30,97.70\r\nST-1,2026-11-02,sale,B,r2,EUR,100.00,2.30,97.70\r\n";

    private const string Lead = TestBook.Lead;

    private readonly BenchBook _bench = new();

    private TestBook Book => _bench.Book;

    public FilesAsTheyCameTests() => _bench.Orders("A", "B");

    public void Dispose() => _bench.Dispose();

    [Fact]
    public void Each_is_kept_byte_for_byte_and_the_book_agrees_with_them()
    {
        var statement = StatementXml();
        var partner = "report,line_id,payee,order_id,to,amount,currency\nR,1,anna,A,2026-10-31,1.00,EUR\n";
        var table = "account,id,booked_on,amount,currency,note\nIE29AIBK93115212345678,7,2026-11-02,-9.50,EUR,charges\n";
        var imports = new[] { (ImportKind.Settlement, Settlement), (ImportKind.Statement, statement), (ImportKind.Outside, partner), (ImportKind.Statement, table), (ImportKind.Settlement, Settlement) };
        foreach (var (kind, text) in imports) Assert.Equal(text, Kept(Take(kind, text)));
        Assert.Empty(Found());
        // Both times the same file: two rows and one file on disk.
        Assert.Equal(imports.Length - 1, Directory.GetFiles(AsTheyCame).Length);
    }

    [Fact]
    public void A_statement_that_is_read_for_payments_is_kept_too()
    {
        var content = Encoding.UTF8.GetPreamble().Concat(Encoding.UTF8.GetBytes(StatementXml())).ToArray();
        Book.Do<PaymentResults>(r => r.Read("s.xml", content, Lead));
        using var kept = Book.Get<FilesAsTheyCame, Stream>(f => f.Open(ImportOf("s.xml"))!);
        using var copy = new MemoryStream();
        kept.CopyTo(copy);
        Assert.Equal(content, copy.ToArray());
        Assert.Empty(Found());
    }

    [Fact]
    public void A_file_that_is_refused_is_not_kept()
    {
        var import = Take(ImportKind.Settlement, "settlement_id,settled_on\nST-1,2026-11-02\n");
        Assert.Equal((ImportState.Refused, false), (Book.Get<ImportFiles, ImportState>(f => f.Find(import)!.State), Book.Get<FilesAsTheyCame, bool>(f => f.IsKept(import))));
    }

    [Fact]
    public void Whoever_changes_one_byte_of_a_file_or_takes_it_away_is_found()
    {
        Take(ImportKind.Settlement, Settlement);
        var file = Assert.Single(Directory.GetFiles(AsTheyCame));
        using (var forged = new GZipStream(File.Create(file), CompressionLevel.Fastest)) forged.Write(Encoding.UTF8.GetBytes(Settlement.Replace("2.30,97.70", "2.31,97.69", StringComparison.Ordinal)));
        Assert.StartsWith("file.csv, brought in by Lena on 3 Nov 2026", Assert.Single(Found()), StringComparison.Ordinal);
        Assert.EndsWith("not what it was", Found()[0], StringComparison.Ordinal);
        File.WriteAllText(file, "no packed file");
        Assert.EndsWith("damaged", Assert.Single(Found()), StringComparison.Ordinal);
        File.Delete(file);
        Assert.EndsWith("gone", Assert.Single(Found()), StringComparison.Ordinal);
        // The same file once more, and the first is whole again.
        Take(ImportKind.Settlement, Settlement);
        Assert.Empty(Found());
    }

    [Theory]
    [InlineData("UPDATE OutsideLines SET Gross = Gross + 1 WHERE LineId = 'r1'", "OutsideLines_NoUpdate", "line r1 of ST-1: 2 Nov 2026, sale, A, €100.01, fee €2.30")]
    [InlineData("DELETE FROM OutsideLines WHERE LineId = 'r2'", "OutsideLines_NoDelete", "line r2 of ST-1: gone")]
    [InlineData("INSERT INTO OutsideLines SELECT Id + 100, Bench, Source, 'r9', Kind, \"On\", \"Order\", \"From\", Reference, Name, Note, Currency, Gross, Fee, DueOn, ImportId, Ours, PartFindings, GrossOurs, FeeOurs, Findings, State, JournalOn FROM OutsideLines WHERE LineId = 'r1'", "OutsideLines_NoReplace", "line r9 of ST-1: 2 Nov 2026, sale, A, €100.00, fee €2.30")]
    public void A_line_that_is_not_as_its_file_has_it_is_named(string forgery, string guard, string found)
    {
        Take(ImportKind.Settlement, Settlement);
        Assert.Empty(Found());
        var sql = Book.Get<BookDbContext, string>(db => db.Database.SqlQueryRaw<string>("SELECT sql AS Value FROM sqlite_master WHERE name = {0}", guard).Single());
        Assert.ThrowsAny<Exception>(() => Execute(forgery.StartsWith("INSERT", StringComparison.Ordinal) ? forgery.Replace("'r9'", "'r1'", StringComparison.Ordinal) : forgery));
        Execute($"DROP TRIGGER {guard}");
        Execute(forgery);
        Execute(sql);
        Assert.Contains(found, Assert.Single(Found()), StringComparison.Ordinal);
    }

    [Fact]
    public void That_a_file_came_stays_on_record()
    {
        Take(ImportKind.Settlement, Settlement);
        Assert.ThrowsAny<Exception>(() => Execute("DELETE FROM OutsideFiles"));
        Assert.ThrowsAny<Exception>(() => Execute("UPDATE OutsideFiles SET Hash = 'x'"));
        Assert.ThrowsAny<Exception>(() => Execute("INSERT OR REPLACE INTO OutsideFiles SELECT ImportId, 'x', Bytes FROM OutsideFiles"));
    }

    [Theory]
    [InlineData("ST-1,2026-11-02,sale,A,r1,EUR,nothing,2.30,97.70", "gross", "100.00")]
    [InlineData(",2026-11-02,sale,A,r1,EUR,100.00,2.30,97.70", "settlement_id", "ST-1")]
    public void A_line_that_somebody_corrected_is_no_forgery(string line, string column, string corrected)
    {
        var import = Take(ImportKind.Settlement, Settlement.Split('\n')[0] + "\n" + line + "\n" + Settlement.Split('\n')[2] + "\n");
        var waiting = Book.Get<QuarantineDesk, WaitingGroup>(q => Assert.Single(q.Waiting()));
        Assert.True(Book.Get<QuarantineDesk, bool>(q => q.SendAgain(import, waiting.Group, new Dictionary<long, IReadOnlyDictionary<string, string>> { [waiting.Rows[0].Id] = new Dictionary<string, string> { [column] = corrected } }, Lead)));
        Assert.Equal("sale:A matched", _bench.Rows()["r1"]);
        Assert.Empty(Found());
    }

    [Fact]
    public void A_backup_has_the_files_and_what_a_stop_left_half_written_is_swept()
    {
        var import = Take(ImportKind.Settlement, Settlement);
        File.WriteAllText(Path.Combine(AsTheyCame, "half.gz.part"), "half");
        var to = Directory.CreateTempSubdirectory("evensplit-restored-").FullName;
        var other = new BookPlace(Path.Combine(to, "book"));
        try
        {
            Book.Get<BookBackup, MadeBackup>(b => b.Make(Path.Combine(to, "backup"), "a long test passphrase", "root"));
            RestoredBook.Restore(Path.Combine(to, "backup"), "a long test passphrase", other, EmptyFolder.ServicesOf, "root");
            using var restored = EmptyFolder.ServicesOf(other);
            using var scope = restored.CreateScope();
            using var text = new StreamReader(scope.ServiceProvider.GetRequiredService<FilesAsTheyCame>().Open(import)!);
            Assert.Equal(Settlement, text.ReadToEnd());
            Assert.Single(Directory.GetFiles(other.AsTheyCame));
        }
        finally
        {
            Directory.Delete(to, recursive: true);
        }
        Book.Get<IServiceProvider, bool>(s =>
        {
            s.SweepUploads();
            return true;
        });
        Assert.Single(Directory.GetFiles(AsTheyCame));
    }

    [Fact]
    public void The_auditors_folder_has_the_files_of_its_months()
    {
        Take(ImportKind.Settlement, Settlement);
        using var october = Folder(new Period(202610));
        Assert.DoesNotContain(october.Entries, e => e.FullName.StartsWith("as-they-came/", StringComparison.Ordinal));
        using var november = Folder(new Period(202611));
        var file = Assert.Single(november.Entries, e => e.FullName.StartsWith("as-they-came/", StringComparison.Ordinal));
        using (var text = new StreamReader(file.Open())) Assert.Equal(Settlement, text.ReadToEnd());
        using var table = new StreamReader(november.GetEntry("settlements.csv")!.Open());
        Assert.Contains(file.FullName, table.ReadToEnd(), StringComparison.Ordinal);
    }

    private string AsTheyCame => Book.Get<BookPlace, string>(p => p.AsTheyCame);

    private int Take(ImportKind kind, string text) => Book.Read(Book.Queue(kind, text)).Id;

    private int ImportOf(string fileName) => Book.Get<BookDbContext, int>(db => db.Imports.Single(i => i.FileName == fileName).Id);

    private string Kept(int import) => Book.Get<FilesAsTheyCame, string>(f =>
    {
        using var text = new StreamReader(f.Open(import)!);
        return text.ReadToEnd();
    });

    private ZipArchive Folder(Period month)
    {
        var stream = new MemoryStream();
        Book.Do<AuditFolder>(f => f.Write(month, month, stream));
        return new ZipArchive(stream, ZipArchiveMode.Read);
    }

    private void Execute(string sql) => Book.Do<BookDbContext>(db => db.Database.ExecuteSqlRaw(sql));

    /// <summary>What the check finds in files and their lines: where, and how it is now.</summary>
    private string[] Found() => Book.Get<BookCheck, string[]>(c => [.. c.Run().Lines.SelectMany(l => l.Shown).Where(d => d.What.StartsWith("file", StringComparison.Ordinal) || d.What.StartsWith("s.xml", StringComparison.Ordinal) || d.What.StartsWith("Files", StringComparison.Ordinal)).Select(d => $"{d.What}: {d.Kept}")]);

    private static string StatementXml() =>
        """
        <?xml version="1.0" encoding="UTF-8"?>
        <Document xmlns="urn:iso:std:iso:20022:tech:xsd:camt.053.001.08"><BkToCstmrStmt><GrpHdr><MsgId>M1</MsgId><CreDtTm>2026-11-03T06:00:00</CreDtTm></GrpHdr>
        <Stmt><Id>S1</Id><Acct><Id><IBAN>IE29AIBK93115212345678</IBAN></Id><Ccy>EUR</Ccy></Acct>
        <Bal><Tp><CdOrPrtry><Cd>OPBD</Cd></CdOrPrtry></Tp><Amt Ccy="EUR">100.00</Amt><CdtDbtInd>CRDT</CdtDbtInd><Dt><Dt>2026-11-02</Dt></Dt></Bal>
        <Bal><Tp><CdOrPrtry><Cd>CLBD</Cd></CdOrPrtry></Tp><Amt Ccy="EUR">95.00</Amt><CdtDbtInd>CRDT</CdtDbtInd><Dt><Dt>2026-11-02</Dt></Dt></Bal>
        <Ntry><NtryRef>N1</NtryRef><Amt Ccy="EUR">5.00</Amt><CdtDbtInd>DBIT</CdtDbtInd><Sts><Cd>BOOK</Cd></Sts><BookgDt><Dt>2026-11-02</Dt></BookgDt><AddtlNtryInf>charges</AddtlNtryInf></Ntry>
        </Stmt></BkToCstmrStmt></Document>
        """;
}
