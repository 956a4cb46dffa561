using EvenSplit.Books.Backups;
using EvenSplit.Books.Model;
using EvenSplit.Books.Payouts;
using EvenSplit.Books.PayRuns;
using Microsoft.EntityFrameworkCore;
using static EvenSplit.Books.Tests.TestBook;

namespace EvenSplit.Books.Tests;

/// <summary>Issuing, stopped before each of its commands to the database in turn: nothing is paid twice, nothing is lost, and the run goes on.</summary>
public sealed class StoppedIssueTests : IDisposable
{
    private static readonly DateOnly October = new(2026, 10, 31);

    private readonly TestBook _book = new();

    public StoppedIssueTests()
    {
        _book.ImportOrders(Row("A", code: "ANNA"), Row("B", "2026-10-30"));
        _book.Do<PayingAccounts>(a => Assert.Empty(a.Save("EUR", "Test book", "GB82WEST12345698765432", "WESTGB2L", Lead)));
        _book.Do<PayoutDetails>(d => Assert.Empty(d.Propose("anna", new PayoutDetailsDraft { Holder = "Anna", Iban = "IE29AIBK93115212345678", Bic = "AIBKIE2D" }, Lead)));
        _book.Do<PayoutDetails>(d => Assert.Empty(d.Propose("ines", new PayoutDetailsDraft { Method = PayoutMethod.Wallet, Recipient = "ines@wallet.example" }, Lead)));
        _book.Do<PayoutDetails>(d =>
        {
            foreach (var waiting in d.Waiting()) d.Confirm(waiting.Id, Approver);
        });
        _book.MoveTo(new DateOnly(2026, 11, 3));
    }

    public void Dispose() => _book.Dispose();

    [Fact]
    public void Stopped_before_any_command_it_is_issued_whole_the_next_time()
    {
        var run = _book.Pay(October);
        var stops = 0;
        while (!TryStopped(stops, i => i.Issue(run.Id, Lead)))
        {
            Assert.Equal((0, 0, RunState.Approved), _book.Get<BookDbContext, (int, int, RunState)>(db => (db.PaymentFiles.Count(), db.Remittances.Count(r => r.EndToEnd != null || r.State != RemittanceState.Ready), db.PayRuns.Single().State)));
            stops++;
        }
        Assert.True(stops > 8, $"{stops}");
        var afterwards = 0;
        while (!TryStopped(afterwards, i => i.Deliver())) afterwards++;
        Assert.True(afterwards > 2, $"{afterwards}");
        Assert.Equal(["ES-261031-1-BANK-EUR.xml"], Files(_book.Place.Bank));
        Assert.Equal(["ES-261031-1-WALLET-EUR.csv"], Files(_book.Place.Wallet));
        Assert.Equal([(1000L, 1), (4000L, 1)], _book.Get<BookDbContext, (long, int)[]>(db => [.. db.PaymentFiles.OrderBy(f => f.Sum).AsEnumerable().Select(f => (f.Sum, f.Payments))]));
    }

    [Fact]
    public async Task Of_several_who_lock_and_approve_at_once_one_does()
    {
        var id = _book.Get<PayRunSteps, int>(s => s.Gather(October, Lead));
        Assert.Equal(1, await AtOnce(s => s.Lock(id, Lead)));
        _book.Do<PayRunSteps>(s => s.LookAt(id, null, Approver));
        var sums = _book.Run(id).ControlText;
        Assert.Equal(1, await AtOnce(s => s.Approve(id, sums, Approver)));
        Assert.Equal(5000, _book.Get<BookDbContext, long>(db => db.Remittances.Sum(r => r.Paid)));
    }

    private async Task<int> AtOnce(Action<PayRunSteps> step)
    {
        var done = await Task.WhenAll(Enumerable.Range(0, 4).Select(_ => Task.Run(() =>
        {
            try
            {
                _book.Do(step);
                return 1;
            }
            catch (RefusedException)
            {
                return 0;
            }
        })));
        return done.Sum();
    }

    private static string?[] Files(string folder) => [.. Directory.GetFiles(Path.Combine(folder, "in")).Select(Path.GetFileName)];

    /// <returns>Whether it came to its end before it was stopped.</returns>
    private bool TryStopped(int afterCommands, Action<IssueRun> issue)
    {
        var options = new DbContextOptionsBuilder<BookDbContext>().UseSqlite($"Data Source={_book.Place.Database}", sqlite => sqlite.UseParameterizedCollectionMode(ParameterTranslationMode.Parameter))
            .AddInterceptors(new Record.RecordChain(), new StopsAfter(afterCommands)).Options;
        using var db = new BookDbContext(options);
        try
        {
            var (cache, clock, @sealed) = (_book.Get<BookCache, BookCache>(c => c), _book.Get<BookClock, BookClock>(c => c), _book.Get<Sealed, Sealed>(s => s));
            var audit = new AuditLog(db, clock, new RequestOrigin());
            issue(new IssueRun(db, cache, clock, _book.Place, @sealed, new Invoices(db), new PaymentDoubts(db, cache, clock, new OwedAgain(db, clock), new FourEyes(db, cache), audit), new RestoredBook(db, cache, audit), new SelfBills(db, cache, clock), audit));
            return true;
        }
        catch (Exception stopped) when (stopped is StoppedException || stopped.InnerException is StoppedException)
        {
            return false;
        }
    }
}
