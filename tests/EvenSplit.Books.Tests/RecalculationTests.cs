using EvenSplit.Books.Importing;
using EvenSplit.Books.Model;
using EvenSplit.Books.Sales;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;
using static EvenSplit.Books.Tests.TestBook;

namespace EvenSplit.Books.Tests;

/// <summary>Working out again in portions, some of them read ahead: whoever writes meanwhile is let in, what cannot be worked out holds nothing else up, and each order is corrected once.</summary>
public sealed class RecalculationTests : IDisposable
{
    private const int Orders = 40;

    private readonly TestBook _book = new();

    public void Dispose() => _book.Dispose();

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(17)]
    [InlineData(Orders)]
    public void One_that_cannot_be_worked_out_is_told_of_and_holds_up_no_other(int which)
    {
        Sell();
        _book.Do<BookDbContext>(db => db.Database.ExecuteSql($"UPDATE Orders SET Currency = 'none' WHERE OrderId = {Id(which)}"));
        Raise();
        _book.Recalculate();
        var done = Last();
        Assert.Equal(((long)Orders, (long)Orders - 1), (done.Done, done.Changed));
        Assert.StartsWith($"Order {Id(which)}: ", Assert.Single(done.Faults.Split('\n', StringSplitOptions.RemoveEmptyEntries)));
        Assert.Equal((Orders * 1000) + ((Orders - 1) * 500), _book.Owed("anna"));
        Assert.Equal(Orders + Orders - 1, _book.Get<BookDbContext, int>(db => db.Entries.Count(e => e.Payee == "anna")));
    }

    /// <summary>Entries are put in while the next orders are worked out: what the database refuses then is told of the order it belongs to.</summary>
    [Theory]
    [InlineData(1)]
    [InlineData(17)]
    [InlineData(Orders)]
    public void One_whose_entries_the_database_refuses_is_told_of_and_holds_up_no_other(int which)
    {
        Sell();
        Raise();
        _book.Do<BookDbContext>(db => db.Database.ExecuteSql($"UPDATE Orders SET Visitor = 'refused' WHERE OrderId = {Id(which)}"));
        _book.Do<BookDbContext>(db => db.Database.ExecuteSqlRaw("CREATE TRIGGER Refusing BEFORE INSERT ON Entries WHEN (SELECT Visitor FROM Orders WHERE Id = NEW.OrderId) = 'refused' BEGIN SELECT RAISE(FAIL, 'not this one'); END"));
        _book.Recalculate();
        _book.Do<BookDbContext>(db => db.Database.ExecuteSqlRaw("DROP TRIGGER Refusing"));
        var done = Last();
        Assert.Equal(((long)Orders, (long)Orders - 1), (done.Done, done.Changed));
        Assert.StartsWith($"Order {Id(which)}: ", Assert.Single(done.Faults.Split('\n', StringSplitOptions.RemoveEmptyEntries)));
        Assert.Equal((Orders * 1000) + ((Orders - 1) * 500), _book.Owed("anna"));
        // Each entry is told why it was posted, and none else.
        Assert.Equal(Orders - 1, _book.Get<BookDbContext, int>(db => db.Entries.Count(e => db.PostingCauses.Any(c => c.FirstEntry <= e.Id && e.Id <= c.LastEntry))));
    }

    /// <summary>What was read ahead of a fee that somebody corrects in between would take that fee back.</summary>
    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    public async Task Whoever_changes_orders_meanwhile_is_let_in_and_nothing_of_it_is_lost(int seed)
    {
        Sell();
        Raise();
        var random = new Random(seed);
        var fees = Enumerable.Range(1, Orders).OrderBy(_ => random.Next()).Take(15).ToDictionary(i => i, i => i * 10);
        var correcting = Task.Run(
            () =>
            {
                foreach (var (order, fee) in fees) _book.Do<CorrectOrder>(c => c.CorrectFees(Id(order), $"{fee / 100}.{fee % 100:D2}", "", Lead));
            },
            TestContext.Current.CancellationToken);
        _book.Do<RecalculateOrders>(r =>
        {
            r.Portion = (1, 2);
            r.RunAll(TestContext.Current.CancellationToken);
        });
        await correcting;
        // What a correction has reached after its turn was listed.
        _book.Recalculate();
        Assert.Equal(fees.Values.Sum(), _book.Get<BookDbContext, long>(db => db.Orders.Sum(o => o.ProcessingFee)));
        _book.AgreesWithItself();
    }

    [Fact]
    public void Stopped_again_and_again_it_corrects_each_order_once()
    {
        Sell();
        Raise();
        var stops = 0;
        while (_book.Get<RecalculateOrders, bool>(r => r.Next() is not null))
        {
            using var stop = new CancellationTokenSource();
            _book.Do<RecalculateOrders>(r =>
            {
                r.Portion = (3, 3);
                // The first stop comes before its first portion, as a stop at once would.
                if (stops == 0) stop.Cancel();
                else stop.CancelAfter(TimeSpan.FromMilliseconds(5 * stops));
                r.RunAll(stop.Token);
            });
            stops++;
        }
        Assert.True(stops > 1);
        Assert.Equal(Orders * 1500, _book.Owed("anna"));
        Assert.Equal(2 * Orders, _book.Get<BookDbContext, int>(db => db.Entries.Count(e => e.Payee == "anna")));
        _book.AgreesWithItself();
    }

    private static string Id(int order) => $"O{order:D2}";

    private void Sell() => _book.ImportOrders([.. Enumerable.Range(1, Orders).Select(i => Row(Id(i), $"2026-10-{1 + (i % 20):D2}", code: "ANNA"))]);

    private void Raise() => _book.Publish(Draft("Friends", Basis.Referral, "15", from: new DateOnly(2026, 9, 1)), "friends");

    private RecalculationRecord Last() => _book.Get<RecalculateOrders, RecalculationRecord>(r => r.Last()!);
}
