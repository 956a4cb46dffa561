using EvenSplit.Books.Model;
using EvenSplit.Books.Posting;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;
using static EvenSplit.Books.Tests.TestBook;

namespace EvenSplit.Books.Tests;

/// <summary>The book, filled through its doors event by event, holds what the core works out from all the facts at once.</summary>
public sealed class BookAgainstCore : IDisposable
{
    private readonly TestBook _book = new();

    public void Dispose() => _book.Dispose();

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    public void Entries_and_runs_are_the_same(int seed)
    {
        var random = new Random(seed);
        var orders = Enumerable.Range(1, 60).Select(i => Row(
            $"O{i:D2}", $"2026-{random.Next(8, 11):D2}-{random.Next(1, 28):D2}", random.Next(2) == 0 ? "ANNA" : "", random.Next(2) == 0 ? "guide" : "print",
            $"{random.Next(1, 200)}.{random.Next(100):D2}", origin: i > 50 ? $"O{i - 50:D2}" : "")).ToArray();
        _book.MoveTo(new DateOnly(2026, 11, 30));
        foreach (var part in orders.Chunk(7)) _book.ImportOrders(part);
        _book.ImportRefunds([.. Enumerable.Range(1, 20).Select(i => $"R{i:D2},O{i * 3:D2},2026-11-{i:D2}T10:00:00Z,{(i % 4 == 0 ? "cancel,,,," : "refund,1,0,0.37,0")}")]);
        _book.Pay(new DateOnly(2026, 10, 31));
        _book.Pay(new DateOnly(2026, 11, 30));

        var expected = WholeBook.WorkOut(Facts());
        var held = _book.Get<BookDbContext, string[]>(db => db.Entries.AsNoTracking().AsEnumerable()
            .Select(e => $"{db.Orders.Find(e.OrderId)!.OrderId} {e.LineNumber + 1} {e.Payee} {e.Agreement} {e.Part} {(e.RefundId is { } r ? db.AllRefunds.Find(r)!.RefundId : "")} {e.Amount} {e.PostedOn:O} {e.ClearsOn:O}")
            .Order(StringComparer.Ordinal).ToArray());
        Assert.Equal(
            expected.Entries.Select(e => $"{e.Order} {e.Line} {e.Payee} {e.Agreement} {e.Part} {e.Refund?.Value} {e.Amount.Minor} {e.PostedOn:O} {e.ClearsOn:O}").Order(StringComparer.Ordinal),
            held);
        var paid = _book.Get<BookDbContext, string[]>(db => db.Remittances.OrderBy(r => r.Id).AsEnumerable().Select(r => $"{r.Payee} {r.Opening} {r.Earned} {r.Paid} {r.Carried} {r.Reason}").ToArray());
        Assert.Equal(expected.Runs.SelectMany(r => r.Payees).Select(p => $"{p.Payee} {p.Opening} {p.Earned} {p.Paid} {p.Carried} {p.Reason}"), paid);
    }

    private Facts Facts() => _book.Get<BookDbContext, Facts>(db =>
    {
        var orders = db.Orders.AsNoTracking().WithParts().AsEnumerable().Select(o => (o.Id, Order: OrderFacts.ToOrder(o))).ToArray();
        var ids = orders.ToDictionary(o => o.Id, o => o.Order.Id);
        return new Facts(
            _book.Get<BookCache, OpenedBook>(cache => cache.Get(db)).Rules,
            orders.Select(o => o.Order).ToArray(),
            db.Refunds.AsNoTracking().Include(r => r.Lines).AsEnumerable().Select(r => OrderFacts.ToRefund(r, ids[r.OrderId])).ToArray(),
            [],
            [new RunRequest(new RunId("1"), new DateOnly(2026, 10, 31), null), new RunRequest(new RunId("2"), new DateOnly(2026, 11, 30), null)]);
    });
}
