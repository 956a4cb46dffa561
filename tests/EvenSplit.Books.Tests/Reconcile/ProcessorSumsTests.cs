using EvenSplit.Books.Catalogue;
using EvenSplit.Books.Checking;
using EvenSplit.Books.Model;
using EvenSplit.Books.Proofs;
using EvenSplit.Books.Reconcile;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;
using static EvenSplit.Books.Tests.BenchBook;

namespace EvenSplit.Books.Tests;

/// <summary>The kept sums of processors' accounts are what bookings, awaited rows and lines come to, whatever happens; who changes one is found.</summary>
public sealed class ProcessorSumsTests : IDisposable
{
    private readonly BenchBook _bench = new();

    private TestBook Book => _bench.Book;

    public void Dispose() => _bench.Dispose();

    [Fact]
    public void They_follow_sales_settlements_corrections_and_refunds()
    {
        _bench.Orders("A", "B", "C");
        Holds(293_10, 293_10, 0, 0);
        _bench.Settle(Line("sale", "A", "1"), Line("sale", "B", "2", fee: "2.80"), Line("fee", "", "3", gross: "0.00", fee: "4.00"), Line("payout", "", "4", gross: "-150.00", fee: "0.00"));
        Holds(293_10, 97_70, 154_00, 194_90);
        // What is awaited is replaced as the fee changes.
        Book.Do<RateDesk>(r => r.Save(new Processor(new ProcessorId("card"), Rate.Parse("0.03"), 30, Currency.Of("EUR")), TestBook.Lead));
        Book.Recalculate();
        Holds(290_10, 96_70, 154_00, 194_90);
        Book.ImportRefunds("R1,C,2026-10-28T12:00:00Z,refund,1,1,100.00,0");
        Holds(190_10, -3_30, 154_00, 194_90);
        // A line that comes again in another settlement shows nothing new of ours.
        _bench.Settle(Line("sale", "A", "5", settlement: "ST-2"), Line("sale", "C", "6", settlement: "ST-2"));
        Holds(190_10, -100_00, 154_00, 194_90 + 195_40);
    }

    [Fact]
    public void A_row_that_is_awaited_is_counted_once_and_never_edited()
    {
        _bench.Orders("A");
        Holds(97_70, 97_70, 0, 0);
        Execute("INSERT OR REPLACE INTO Awaited SELECT Bench, Ours, Kind, \"On\", \"Order\", Source, Currency, Gross + 1, Fee, Name FROM Awaited");
        Assert.Equal((97_71, 1), NotSettled());
        Assert.ThrowsAny<Exception>(() => Execute("UPDATE Awaited SET Gross = 1"));
        Execute("DELETE FROM Awaited");
        Assert.Equal((0, 0), NotSettled());
    }

    [Theory]
    [InlineData("UPDATE ProcessorSums SET Amount = Amount + 1 WHERE Kind = 0", "card in EUR, what sales put in: €195.41, €195.40")]
    [InlineData("DELETE FROM ProcessorSums WHERE Kind = 1", "ST-1 in EUR, paid out and kept as fees: no sum, €4.00")]
    [InlineData("INSERT INTO ProcessorSums VALUES (2, 'ST-9', 'EUR', 5)", "ST-9 in EUR, lines of sales: €0.05, €0.00")]
    [InlineData("UPDATE NotSettledDays SET Amount = 1", "card in EUR, not settled of 25 Oct 2026: (1, €0.01), (1, €97.70)")]
    [InlineData("DELETE FROM NotSettledDays", "card in EUR, not settled of 25 Oct 2026: no sum, €97.70")]
    public void Who_changes_one_is_found(string sql, string difference)
    {
        _bench.Orders("A", "B");
        _bench.Settle(Line("sale", "A", "1"), Line("fee", "", "3", gross: "0.00", fee: "4.00"));
        Book.Do<FindMatches>(m => m.RunAll());
        Execute(sql);
        Assert.Equal([difference], Differences().Select(d => $"{d.What}: {d.Kept}, {d.WorkedOut}"));
    }

    /// <summary>Minor units in euro.</summary>
    private void Holds(long sold, long notSettled, long takenOut, long settled)
    {
        Book.Do<FindMatches>(m => m.RunAll());
        Assert.Equal((sold, notSettled, takenOut, settled), (Sum(ProcessorSumKind.Sold), NotSettled().Sum, Sum(ProcessorSumKind.TakenOut), Sum(ProcessorSumKind.Settled)));
        Assert.Empty(Differences());
        Assert.All(Book.Get<MonthProof, ProofView>(p => p.Of(new Period(202610))).Lines, l => Assert.True(l.Holds, $"{l.Check}: {l.Left}, {l.Right}"));
    }

    private long Sum(ProcessorSumKind kind) => Book.Get<BookDbContext, long>(db => db.ProcessorSums.Where(s => s.Kind == kind).Sum(s => s.Amount));

    private (long Sum, long Rows) NotSettled() => Book.Get<BookDbContext, (long, long)>(db => (db.NotSettledDays.Sum(d => d.Amount), db.NotSettledDays.Sum(d => d.Rows)));

    private IReadOnlyList<CheckDifference> Differences() => Book.Get<BookCheck, IReadOnlyList<CheckDifference>>(c => c.Run().Lines.Single(l => l.Name == "Sums of processors").Shown);

    private void Execute(string sql) => Book.Do<BookDbContext>(db => db.Database.ExecuteSqlRaw(sql));
}
