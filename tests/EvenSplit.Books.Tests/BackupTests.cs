using System.Text;
using EvenSplit.Books.Backups;
using EvenSplit.Books.Checking;
using EvenSplit.Books.Forms;
using EvenSplit.Books.Model;
using EvenSplit.Books.Payouts;
using EvenSplit.Books.PayRuns;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using static EvenSplit.Books.Tests.TestBook;

namespace EvenSplit.Books.Tests;

/// <summary>A book is backed up while it is open, comes back whole, and after it has come back pays nothing twice and forgets nothing.</summary>
public sealed class BackupTests : IDisposable
{
    private const string Passphrase = "hedge sparrow under the oak", HouseIban = "GB82WEST12345698765432", AnnasIban = "IE29AIBK93115212345678";

    private static readonly DateOnly October = new(2026, 10, 31);

    private readonly TestBook _book = new();
    private readonly string _folder = Directory.CreateTempSubdirectory("evensplit-restore-").FullName;

    public BackupTests()
    {
        _book.ImportOrders(Row("A", code: "ANNA"), Row("B", "2026-10-30"));
        Assert.Empty(_book.Get<PayingAccounts, IReadOnlyList<FieldFault>>(a => a.Save("EUR", "Test book", HouseIban, "WESTGB2L", Lead)));
        Assert.Empty(_book.Get<PayoutDetails, IReadOnlyList<FieldFault>>(d => d.Propose("anna", new PayoutDetailsDraft { Holder = "Anna", Iban = AnnasIban, Bic = "AIBKIE2D" }, Lead)));
        _book.Do<PayoutDetails>(d => d.Confirm(d.Waiting()[0].Id, Approver));
        _book.MoveTo(new DateOnly(2026, 11, 3));
    }

    public void Dispose()
    {
        _book.Dispose();
        SqliteConnection.ClearAllPools();
        Directory.Delete(_folder, recursive: true);
    }

    private string BackupPath => Path.Combine(_folder, "book.backup");

    private BookPlace Other => new(Path.Combine(_folder, "restored"));

    [Fact]
    public void A_book_comes_back_with_its_database_its_keys_and_its_files()
    {
        Directory.CreateDirectory(Path.Combine(_book.Place.Bank, "read"));
        File.WriteAllText(Path.Combine(_book.Place.Bank, "read", "answer.xml"), "<a/>");
        var made = Backup();
        Assert.Equal(3, made.Files);
        Assert.DoesNotContain("SQLite format", System.Text.Encoding.Latin1.GetString(File.ReadAllBytes(BackupPath)), StringComparison.Ordinal);
        if (!OperatingSystem.IsWindows()) Assert.Equal(UnixFileMode.UserRead | UnixFileMode.UserWrite, File.GetUnixFileMode(BackupPath));
        Assert.NotNull(_book.Get<BookBackup, DateTimeOffset?>(b => b.Last()));
        Restore();
        using var restored = EmptyFolder.ServicesOf(Other);
        using var scope = restored.CreateScope();
        var services = scope.ServiceProvider;
        Assert.Equal(0, services.GetRequiredService<BookCheck>().Run().Differences);
        Assert.Equal(_book.Get<BookDbContext, long>(db => db.Entries.Sum(e => e.Amount)), services.GetRequiredService<BookDbContext>().Entries.Sum(e => e.Amount));
        // Sealed details open: the keys came with it.
        Assert.Equal(AnnasIban, services.GetRequiredService<Sealed>().Account(services.GetRequiredService<BookDbContext>().PayoutDetails.AsNoTracking().Single()).Iban);
        Assert.Equal("<a/>", File.ReadAllText(Path.Combine(Other.Bank, "read", "answer.xml")));
    }

    [Fact]
    public void A_backup_goes_over_no_book_and_no_other_backup()
    {
        Backup();
        Assert.Contains("there already", Assert.Throws<RefusedException>(() => Backup()).Message, StringComparison.Ordinal);
        Assert.Contains("not empty", Assert.Throws<RefusedException>(() => RestoredBook.Restore(BackupPath, Passphrase, _book.Place, EmptyFolder.ServicesOf, "root")).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void A_wrong_passphrase_a_short_one_and_a_damaged_file_are_told_and_leave_nothing()
    {
        Assert.Contains("16 characters", Assert.Throws<RefusedException>(() => _book.Get<BookBackup, MadeBackup>(b => b.Make(BackupPath, "short", "root"))).Message, StringComparison.Ordinal);
        Assert.False(File.Exists(BackupPath));
        Backup();
        Assert.Throws<RefusedException>(() => RestoredBook.Restore(BackupPath, Passphrase + "!", Other, EmptyFolder.ServicesOf, "root"));
        var bytes = File.ReadAllBytes(BackupPath);
        // Wherever it is damaged: which part of the reading finds it differs from place to place.
        foreach (var at in Enumerable.Range(1, 24).Select(part => (int)((long)bytes.Length * part / 25)))
        {
            var damaged = (byte[])bytes.Clone();
            damaged[at] ^= 0xFF;
            File.WriteAllBytes(BackupPath, damaged);
            Assert.Throws<RefusedException>(() => RestoredBook.Restore(BackupPath, Passphrase, Other, EmptyFolder.ServicesOf, "root"));
        }
        File.WriteAllBytes(BackupPath, bytes[..(bytes.Length / 2)]);
        Assert.Throws<RefusedException>(() => RestoredBook.Restore(BackupPath, Passphrase, Other, EmptyFolder.ServicesOf, "root"));
        Assert.False(Directory.Exists(Other.Folder));
        Assert.False(Directory.Exists(Other.Folder + ".part"));
    }

    /// <summary>The drill: the morning's backup, a run issued in the afternoon, the disk lost in the evening.</summary>
    [Fact]
    public void What_was_issued_after_the_backup_is_not_issued_again()
    {
        var morning = _book.Pay(October);
        Backup();
        _book.Do<IssueRun>(i => i.Issue(morning.Id, Lead));
        var lost = _book.Get<BookDbContext, string>(db => db.Remittances.Single(r => r.Payee == "anna").EndToEnd!);
        Restore();

        using var restored = EmptyFolder.ServicesOf(Other);
        using var scope = restored.CreateScope();
        var services = scope.ServiceProvider;
        Assert.Contains("came back from a backup", Assert.Throws<RefusedException>(() => services.GetRequiredService<IssueRun>().Issue(morning.Id, Lead)).Message, StringComparison.Ordinal);
        // The bank's statement names a payment that this book has forgotten.
        var read = services.GetRequiredService<PaymentResults>().Read("s.xml", Encoding.UTF8.GetBytes(Statement(lost)), Lead);
        Assert.Equal(lost, read.Unknown);
        services.GetRequiredService<BookDbContext>().ChangeTracker.Clear();
        var anna = services.GetRequiredService<PayRunDesk>().Find(morning.Id)!.Rows.Single(r => r.Payee == "anna").Id!.Value;
        services.GetRequiredService<HandPayments>().MarkPaid(morning.Id, [anna], new DateOnly(2026, 11, 3), lost, null, Lead);
        services.GetRequiredService<RestoredBook>().TakenUp(Lead);
        services.GetRequiredService<BookDbContext>().ChangeTracker.Clear();
        // What is left is issued; nothing is paid twice, nothing forgotten, and no reference is used again.
        Assert.Equal(0, services.GetRequiredService<IssueRun>().Issue(morning.Id, Lead));
        var payments = services.GetRequiredService<BookDbContext>().Remittances.AsNoTracking().Where(r => r.Paid > 0).ToDictionary(r => r.Payee);
        Assert.Equal((RemittanceState.Confirmed, lost, null), (payments["anna"].State, payments["anna"].Reference, payments["anna"].EndToEnd));
        Assert.All(services.GetRequiredService<BookDbContext>().PaymentFiles.AsNoTracking(), f => Assert.Matches("^ES-[A-Z2-9]{4}-261031-", f.MessageId));
        // Marked paid, it is a payment of this book.
        Assert.Equal("", services.GetRequiredService<PaymentResults>().Read("t.xml", Encoding.UTF8.GetBytes(Statement(lost).Replace("ST-1", "ST-2", StringComparison.Ordinal)), Lead).Unknown);
        Assert.Equal(0, services.GetRequiredService<BookCheck>().Run().Differences);
    }

    /// <summary>The same drill with the file that was issued: the bank's word of it is understood as if nothing had been lost.</summary>
    [Fact]
    public void An_issued_file_is_taken_up_and_its_payments_are_sent_no_second_time()
    {
        var morning = _book.Pay(October);
        Backup();
        _book.Do<IssueRun>(i => i.Issue(morning.Id, Lead));
        var lost = _book.Get<BookDbContext, string>(db => db.Remittances.Single(r => r.Payee == "anna").EndToEnd!);
        var (file, name, text) = _book.Get<IssueRun, (PaymentFileRecord, string, string)>(i => i.FilesOf(morning.Id).First(f => f.Method == PayoutMethod.Bank) is var f && i.File(morning.Id, f.Id) is { } content ? (f, content.Name, content.Content) : default);
        Assert.Equal("Issued", Assert.Throws<RefusedException>(() => _book.Do<FilesTakenUp>(f => f.Take(name, text, Lead))).Field);
        Restore();

        using var restored = EmptyFolder.ServicesOf(Other);
        using var scope = restored.CreateScope();
        var services = scope.ServiceProvider;
        int Take(string content) => services.GetRequiredService<FilesTakenUp>().Take(name, content, Lead);
        Assert.Throws<RefusedException>(() => Take("<Document/>"));
        // Another amount than the run's: nothing of the file is taken.
        Assert.Contains("No approved run", Assert.Throws<RefusedException>(() => Take(System.Text.RegularExpressions.Regex.Replace(text, "(<InstdAmt[^>]*>)[^<]*", "${1}0.01"))).Message, StringComparison.Ordinal);
        services.GetRequiredService<BookDbContext>().ChangeTracker.Clear();
        Assert.Equal(file.Payments, Take(text));
        Assert.Throws<RefusedException>(() => Take(text));
        Assert.Equal("", services.GetRequiredService<PaymentResults>().Read("s.xml", Encoding.UTF8.GetBytes(Statement(lost)), Lead).Unknown);
        services.GetRequiredService<RestoredBook>().TakenUp(Lead);
        services.GetRequiredService<BookDbContext>().ChangeTracker.Clear();
        services.GetRequiredService<IssueRun>().Issue(morning.Id, Lead);
        var anna = services.GetRequiredService<BookDbContext>().Remittances.AsNoTracking().Single(r => r.Payee == "anna");
        Assert.Equal((RemittanceState.Confirmed, lost), (anna.State, anna.EndToEnd));
        Assert.Single(services.GetRequiredService<BookDbContext>().PaymentFiles.AsNoTracking().Where(f => f.Method == PayoutMethod.Bank));
        Assert.Equal(0, services.GetRequiredService<BookCheck>().Run().Differences);
    }

    private MadeBackup Backup() => _book.Get<BookBackup, MadeBackup>(b => b.Make(BackupPath, Passphrase, "root"));

    private void Restore() => RestoredBook.Restore(BackupPath, Passphrase, Other, EmptyFolder.ServicesOf, "root");

    private static string Statement(string reference) =>
        $"""
        <Document xmlns="urn:iso:std:iso:20022:tech:xsd:camt.053.001.08"><BkToCstmrStmt><GrpHdr><MsgId>ST-1</MsgId></GrpHdr><Stmt><Id>1</Id><Acct><Id><IBAN>{HouseIban}</IBAN></Id></Acct><Ntry><Amt Ccy="EUR">10.00</Amt>
        <CdtDbtInd>DBIT</CdtDbtInd><BookgDt><Dt>2026-11-03</Dt></BookgDt><NtryDtls><TxDtls><Refs><EndToEndId>{reference}</EndToEndId></Refs></TxDtls></NtryDtls></Ntry></Stmt></BkToCstmrStmt></Document>
        """;
}
