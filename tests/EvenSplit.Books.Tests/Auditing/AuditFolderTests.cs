using System.Globalization;
using System.IO.Compression;
using CsvHelper;
using EvenSplit.Books.Auditing;
using EvenSplit.Books.Payouts;
using EvenSplit.Books.PayRuns;
using EvenSplit.Core;
using EvenSplit.Formats.Scenarios;

namespace EvenSplit.Books.Tests;

/// <summary>With the folder and what calc does, and nothing else of the book, every run and entry is worked out again.</summary>
public sealed class AuditFolderTests : IDisposable
{
    private const string Iban = "IE29AIBK93115212345678", House = "GB82WEST12345698765432";
    private static readonly Period October = new(202610), November = new(202611);

    private readonly TestBook _book = new();

    public AuditFolderTests()
    {
        Assert.Empty(_book.Get<PayingAccounts, IReadOnlyList<Forms.FieldFault>>(a => a.Save("EUR", "Test book", House, "WESTGB2L", TestBook.Lead)));
        Assert.Empty(_book.Get<PayoutDetails, IReadOnlyList<Forms.FieldFault>>(d => d.Propose("anna", new PayoutDetailsDraft { Holder = "Anna", Iban = Iban, Bic = "AIBKIE2D" }, TestBook.Lead)));
        _book.Do<PayoutDetails>(d => d.Confirm(d.Waiting()[0].Id, TestBook.Approver));
        _book.MoveTo(new DateOnly(2026, 11, 8));
        _book.ImportOrders(TestBook.Row("A", code: "ANNA"), TestBook.Row("B", "2026-10-20", "ANNA"));
        var run = _book.Get<PayRunSteps, int>(s => s.Gather(new DateOnly(2026, 10, 31), TestBook.Lead));
        _book.Do<PayRunSteps>(s => s.Lock(run, TestBook.Lead));
        _book.Approve(run);
        _book.Do<IssueRun>(s => s.Issue(run, TestBook.Lead));
        _book.ImportRefunds("RF,B,2026-11-05T10:00:00Z,refund,1,0,40.00,0");
    }

    public void Dispose() => _book.Dispose();

    [Fact]
    public void Runs_and_entries_are_worked_out_again_from_the_folder_alone()
    {
        using var zip = Folder();
        using var scenario = zip.GetEntry("scenario.json")!.Open();
        using var again = new MemoryStream();
        var facts = ScenarioReader.Read(scenario);
        ResultWriter.Write(WholeBook.WorkOut(facts), again);
        Assert.Equal(Read(zip, "result.json"), System.Text.Encoding.UTF8.GetString(again.ToArray()));

        var run = Assert.Single(WholeBook.WorkOut(facts).Runs);
        var listed = Table(zip, "remittances.csv").ToDictionary(r => r["payee"], r => r["paid"]);
        Assert.Equal(run.Payees.ToDictionary(p => p.Payee.Value, p => new Money(p.Paid, p.Currency).ToMajorText()), listed);
        Assert.NotEqual("0.00", listed["anna"]);
        Assert.Equal(
            WholeBook.WorkOut(facts).Entries.Sum(e => e.Amount.Minor), Table(zip, "entries.csv").Sum(e => (long)(decimal.Parse(e["amount"], CultureInfo.InvariantCulture) * 100)));
    }

    [Fact]
    public void No_account_can_be_read_in_it()
    {
        using var zip = Folder();
        var all = zip.Entries.Select(e => (e.FullName, Text: Read(zip, e.FullName))).ToArray();
        Assert.All(all, file => Assert.DoesNotContain(Iban, file.Text, StringComparison.Ordinal));
        Assert.All(all, file => Assert.DoesNotContain(House, file.Text, StringComparison.Ordinal));
        Assert.Contains("IE…5678", Assert.Single(all, f => f.FullName.Contains("-BANK-", StringComparison.Ordinal)).Text, StringComparison.Ordinal);
    }

    [Fact]
    public void It_holds_what_its_readme_names_and_every_proof_in_it_holds()
    {
        using var zip = Folder();
        var names = zip.Entries.Select(e => e.FullName).ToArray();
        foreach (var name in new[] { "entries.csv", "runs.csv", "remittances.csv", "journal.journal", "journal.csv", "trial-balance.csv", "months.csv", "settlements.csv", "bank-lines.csv", "partner-lines.csv", "record.csv", "matches-processors.csv", "matches-bank.csv", "matches-partners.csv" })
        {
            Assert.Contains(name, names);
            Assert.Contains(name, Read(zip, "README.txt"), StringComparison.Ordinal);
        }
        Assert.All([October, November], month => Assert.All(Table(zip, $"proof-{month}.csv"), line => Assert.Equal("true", line["ok"])));
        Assert.NotEmpty(Table(zip, "record.csv"));
        Assert.Single(names, n => n.StartsWith("statements/", StringComparison.Ordinal) && n.EndsWith("-anna.csv", StringComparison.Ordinal));
    }

    [Fact]
    public void Only_its_months_are_in_its_tables()
    {
        using var zip = Folder(November, November);
        Assert.All(Table(zip, "entries.csv"), e => Assert.StartsWith("2026-11", e["posted_on"], StringComparison.Ordinal));
        Assert.Empty(Table(zip, "remittances.csv"));
        Assert.Throws<RefusedException>(() => Folder(November, October));
    }

    private ZipArchive Folder() => Folder(October, November);

    private ZipArchive Folder(Period from, Period to)
    {
        var bytes = new MemoryStream();
        _book.Do<AuditFolder>(f => f.Write(from, to, bytes));
        bytes.Position = 0;
        return new ZipArchive(bytes, ZipArchiveMode.Read);
    }

    private static string Read(ZipArchive zip, string name)
    {
        using var text = new StreamReader(zip.GetEntry(name)!.Open());
        return text.ReadToEnd();
    }

    private static IReadOnlyDictionary<string, string>[] Table(ZipArchive zip, string name)
    {
        using var csv = new CsvReader(new StringReader(Read(zip, name)), CultureInfo.InvariantCulture);
        csv.Read();
        csv.ReadHeader();
        var rows = new List<IReadOnlyDictionary<string, string>>();
        while (csv.Read()) rows.Add(csv.HeaderRecord!.ToDictionary(h => h, h => csv.GetField(h)!));
        return [.. rows];
    }
}
