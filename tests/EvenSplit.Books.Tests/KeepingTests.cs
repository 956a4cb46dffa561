using System.Text;
using System.Text.Json.Nodes;
using EvenSplit.Books.Backups;
using EvenSplit.Books.Checking;
using EvenSplit.Books.Importing;
using EvenSplit.Books.Journal;
using EvenSplit.Books.Keeping;
using EvenSplit.Books.Model;
using EvenSplit.Books.PayRuns;
using EvenSplit.Core;
using EvenSplit.Formats.Scenarios;
using Microsoft.EntityFrameworkCore;
using static EvenSplit.Books.Tests.TestBook;

namespace EvenSplit.Books.Tests;

/// <summary>What a book need not keep goes without moving a figure; backups of nights are as many as were asked for; who works alone is told of.</summary>
public sealed class KeepingTests
{
    private const string Header = "order_id,channel,placed_at,paid_at,currency,customer_key,coupon_codes,line_id,product,quantity,unit_price\n";

    [Fact]
    public void A_buyer_is_made_unknown_without_moving_a_figure_and_no_file_brings_them_back()
    {
        using var book = new TestBook();
        var file = Header
            + "A,web,2026-10-01T09:00:00Z,2026-10-01T09:00:00Z,EUR,maria@example.com,ANNA,1,guide,1,24.00\n"
            + "B,web,2026-10-02T09:00:00Z,2026-10-02T09:00:00Z,EUR,maria@example.com,,1,guide,2,24.00\n"
            + "C,web,2026-10-02T09:00:00Z,2026-10-02T09:00:00Z,EUR,someone-else,,1,guide,1,24.00\n"
            + "D,web,2026-10-02T09:00:00Z,2026-10-02T09:00:00Z,EUR,maria@example.com,,1,no-such-thing,1,24.00\n";
        Bring(book, file);
        // Anna buys under this key too: her own orders are no referral.
        book.Do<BookDbContext>(db =>
        {
            db.Payees.Single(p => p.Id == "anna").CustomerKeys = ["maria@example.com"];
            db.Book.Single().RulesVersion++;
            db.SaveChanges();
        });
        var before = Results(book);
        Assert.Equal((2, 1, true), book.Get<UnknownBuyers, (int, int, bool)>(b => b.Find("maria@example.com") is var t ? (t.Orders, t.Waiting, t.IsPayee) : default));

        var replacement = book.Get<UnknownBuyers, string>(b => b.Forget("maria@example.com", Lead));
        Assert.False(book.Get<UnknownBuyers, bool>(b => b.Find("maria@example.com").IsAny));
        Assert.Equal(before, Results(book));
        Assert.Equal([replacement], book.Get<BookDbContext, List<string>>(db => db.Payees.AsNoTracking().Single(p => p.Id == "anna").CustomerKeys));
        Assert.DoesNotContain("maria", Dump(book), StringComparison.Ordinal);

        // The same file again says nothing new, and a new order of theirs is one of the same unknown buyer.
        var again = Bring(book, file + "E,web,2026-10-03T09:00:00Z,2026-10-03T09:00:00Z,EUR,maria@example.com,,1,guide,1,24.00\n");
        Assert.Equal((1L, 0L, 3L), (again.Added, again.Changed, again.Unchanged));
        Assert.Equal(3, book.Get<UnknownBuyers, int>(b => b.Find(replacement).Orders));
        Assert.Throws<RefusedException>(() => book.Get<UnknownBuyers, string>(b => b.Forget("nobody", Lead)));
    }

    [Theory]
    [InlineData(3)]
    [InlineData(4)]
    public void Making_a_random_buyer_unknown_moves_no_figure_of_a_random_book(int seed)
    {
        using var book = new ScenarioBook(ScenarioBook.Random(seed, 150));
        var keys = book.Get<BookDbContext, string[]>(db => [.. db.Orders.Where(o => o.CustomerKey != null).Select(o => o.CustomerKey!).Distinct().OrderBy(k => k).Take(3)]);
        var before = book.Result();
        foreach (var key in keys) book.Get<UnknownBuyers, string>(b => b.Forget(key, Lead));
        var after = book.Result();
        Assert.All(before.Keys, section => Assert.Equal(before[section], after[section]));
        Assert.Equal(0, book.Get<BookCheck, CheckResult>(c => c.Run()).Differences);
        // What it exports works out to the same.
        using var exported = new MemoryStream();
        ScenarioWriter.Write(book.Get<Scenarios.BookFacts, Facts>(f => f.Read()), exported);
        Assert.DoesNotContain(keys, k => Encoding.UTF8.GetString(exported.ToArray()).Contains($"\"customerKey\":\"{k}\"", StringComparison.Ordinal));
    }

    [Fact]
    public void Old_clicks_and_the_bodies_of_old_events_go_when_the_lead_says_so()
    {
        using var book = new TestBook();
        var now = new DateTimeOffset(2026, 10, 20, 3, 0, 0, TimeSpan.Zero);
        book.Do<BookDbContext>(db =>
        {
            foreach (var (months, visitor) in new[] { (14, "old"), (1, "new") }) db.Clicks.Add(new ClickRecord { Payee = "anna", At = now.AddMonths(-months), Visitor = visitor, Order = "", Page = "/", Source = "s", Period = 1 });
            foreach (var (months, id, state) in new[] { (8, "old", EventState.Taken), (8, "waits", EventState.Waiting), (1, "new", EventState.Taken) })
            {
                db.Inbox.Add(new InboxEventRecord { Id = months * 10 + (int)state, EventId = id, Source = "s", Order = "", Body = [1, 2], ReceivedAt = now.AddMonths(-months), State = state });
            }
            db.SaveChanges();
        });
        Assert.Equal((0, 0), book.Get<Retention, (int, int)>(r => r.Thin(now, default)));
        Assert.Throws<RefusedException>(() => book.Do<BookSafety>(s => s.Save(new SafetyChoices(false, 0, null), Lead)));
        book.Do<BookSafety>(s => s.Save(new SafetyChoices(false, 12, 6), Lead));
        Assert.Equal((1, 1), book.Get<Retention, (int, int)>(r => r.Thin(now, default)));
        Assert.Equal(["new"], book.Get<BookDbContext, string[]>(db => [.. db.Clicks.Select(c => c.Visitor)]));
        Assert.Equal([("new", 2), ("old", 0), ("waits", 2)], book.Get<BookDbContext, (string, int)[]>(db => [.. db.Inbox.OrderBy(e => e.EventId).AsEnumerable().Select(e => (e.EventId, e.Body.Length))]));
        Assert.Equal((0, 0), book.Get<Retention, (int, int)>(r => r.Thin(now, default)));
    }

    [Fact]
    public void One_persons_data_is_one_file_and_on_record()
    {
        using var book = new TestBook();
        book.ImportOrders(Row("A", code: "ANNA"));
        using var file = new MemoryStream();
        Assert.True(book.Get<PersonData, bool>(d => d.Write("anna", file, Lead)));
        var data = JsonNode.Parse(file.ToArray())!;
        Assert.Equal("Anna", (string?)data["payee"]!["name"]);
        Assert.Equal("A", (string?)data["entries"]![0]!["order"]);
        Assert.DoesNotContain("Ines", Encoding.UTF8.GetString(file.ToArray()), StringComparison.Ordinal);
        Assert.Contains("take one person's data", book.Get<BookDbContext, string[]>(db => [.. db.Audit.Select(a => a.Action)]));
        Assert.False(book.Get<PersonData, bool>(d => d.Write("nobody", file, Lead)));
    }

    [Fact]
    public void As_many_backups_of_nights_are_kept_as_were_asked_for_and_other_files_stay()
    {
        using var book = new TestBook();
        var folder = Directory.CreateTempSubdirectory("evensplit-nights-").FullName;
        try
        {
            var plan = new BackupPlan(Path.Combine(folder, "backups"), Path.Combine(folder, "passphrase"), 2);
            var night = new DateTimeOffset(2026, 11, 1, 3, 0, 0, TimeSpan.Zero);
            Assert.Contains("which is not there", Assert.Throws<RefusedException>(() => book.Get<BackupSchedule, MadeBackup>(s => s.Make(plan, night))).Message, StringComparison.Ordinal);
            File.WriteAllText(plan.PassphraseFile, "hedge sparrow under the oak\n");
            Directory.CreateDirectory(plan.Folder);
            File.WriteAllText(Path.Combine(plan.Folder, "by hand.evensplit"), "");
            for (var i = 0; i < 3; i++) book.Get<BackupSchedule, MadeBackup>(s => s.Make(plan, night.AddDays(i)));
            Assert.Equal(["20261102-030000.evensplit", "20261103-030000.evensplit"], BackupSchedule.Kept(plan).Select(f => Path.GetFileName(f)));
            Assert.True(File.Exists(Path.Combine(plan.Folder, "by hand.evensplit")));
        }
        finally
        {
            Directory.Delete(folder, recursive: true);
        }
    }

    [Fact]
    public void Who_works_alone_prepares_and_approves_and_the_run_says_so()
    {
        using var book = new TestBook();
        book.ImportOrders(Row("A", code: "ANNA"));
        book.MoveTo(new DateOnly(2026, 11, 3));
        var run = book.Get<PayRunSteps, int>(s => s.Gather(new DateOnly(2026, 10, 31), Lead));
        book.Do<PayRunSteps>(s => s.Lock(run, Lead));
        void Release()
        {
            book.Do<PayRunSteps>(s => s.LookAt(run, null, Lead));
            book.Do<PayRunSteps>(s => s.Approve(run, book.Get<PayRunDesk, string>(d => d.Find(run)!.ControlText), Lead));
        }
        Assert.Throws<RefusedException>(Release);
        book.Do<BookDbContext>(db => db.Book.ExecuteUpdate(set => set.SetProperty(b => b.WorksAlone, true).SetProperty(b => b.RulesVersion, b => b.RulesVersion + 1)));
        Release();
        Assert.Equal(Lead, book.Get<PayRunDesk, string?>(d => d.Find(run)!.OnePerson));
        Assert.Equal(Lead, book.Get<Statements, string?>(s => s.Find(run, "anna")!.OnePerson));
        Assert.Contains($", prepared and approved by one person, {Lead}", book.Get<RunJournal, string>(j => j.Write(run)!), StringComparison.Ordinal);
    }

    private static ImportRecord Bring(TestBook book, string file)
    {
        var id = book.Get<ImportFiles, int>(f => f.QueueAsync(ImportKind.Orders, "orders.csv", new MemoryStream(Encoding.UTF8.GetBytes(file)), Lead).GetAwaiter().GetResult());
        book.Do<ReadImport>(r => r.Run(id));
        return book.Get<BookDbContext, ImportRecord>(db => db.Imports.AsNoTracking().Single(i => i.Id == id));
    }

    private static string[] Results(TestBook book) => [.. ScenarioBook.Items(book.Get<Scenarios.BookResults, BookResult>(r => r.Read())).SelectMany(s => s.Value)];

    /// <summary>Every text of the tables in which a buyer could stand.</summary>
    private static string Dump(TestBook book) => book.Get<BookDbContext, string>(db => string.Join('\n', db.Orders.AsNoTracking().AsEnumerable().Select(o => $"{o.CustomerKey} {o.Visitor}")
        .Concat(db.Quarantine.Select(r => r.Cells)).Concat(db.Audit.Select(a => a.Subject + a.Changes)).Concat(db.Payees.AsNoTracking().AsEnumerable().SelectMany(p => p.CustomerKeys))));
}
