using System.Text;
using EvenSplit.Books.Model;
using EvenSplit.Books.Posting;
using EvenSplit.Core;
using EvenSplit.Formats.Events;
using Microsoft.EntityFrameworkCore;
using static EvenSplit.Books.Tests.TestBook;

namespace EvenSplit.Books.Tests;

/// <summary>Rows put in and read in bulk say what EF says of them, whatever the row before said: only what differs from that is bound.</summary>
public sealed class RowsInBulkTests : IDisposable
{
    private readonly TestBook _book = new();

    public void Dispose() => _book.Dispose();

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    public void Rows_are_put_in_as_they_are_also_where_one_object_is_changed_from_row_to_row(int seed)
    {
        var random = new Random(seed);
        var one = new InboxEventRecord { EventId = "", Source = "", Order = "", Body = [] };
        var wanted = new List<string>();
        _book.Do<BookDbContext>(db =>
        {
            using var transaction = db.Database.BeginTransaction();
            using (var writer = BulkWriter<InboxEventRecord>.Inserting(db)) writer.Write(Rows());
            transaction.Commit();
        });
        _book.Do<BookDbContext>(db => Assert.Equal(wanted, db.Inbox.AsNoTracking().OrderBy(e => e.Id).AsEnumerable().Select(Says)));

        IEnumerable<InboxEventRecord> Rows()
        {
            for (var i = 1; i <= 300; i++)
            {
                Change(one, i);
                wanted.Add(Says(one));
                yield return one;
            }
        }

        void Change(InboxEventRecord row, int number)
        {
            (row.Id, row.EventId) = (number, $"event {number}");
            if (random.Next(3) == 0) row.Source = $"shop-{random.Next(3)}";
            if (random.Next(3) == 0) row.Order = random.Next(4) == 0 ? "" : $"Ö-{random.Next(5)}";
            if (random.Next(3) == 0) row.Kind = (SalesEventKind)random.Next(3);
            if (random.Next(3) == 0) row.Body = Encoding.UTF8.GetBytes(new string('b', random.Next(4)));
            if (random.Next(3) == 0) row.ReceivedAt = DateTimeOffset.UnixEpoch.AddMinutes(random.Next(4));
            if (random.Next(3) == 0) row.State = (EventState)random.Next(5);
            if (random.Next(3) == 0) row.Fault = random.Next(2) == 0 ? null : "why not";
        }
    }

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    public void Numbers_and_words_that_are_missing_stay_missing_and_no_row_has_those_of_the_row_before(int seed)
    {
        var random = new Random(seed);
        _book.ImportOrders(Row("A", "2026-10-15"));
        OrderExceptionRecord[] rows =
        [
            .. Enumerable.Range(1, 300).Select(i => new OrderExceptionRecord
            {
                Id = 1_000 + i,
                OrderId = 1,
                Period = 202610,
                Code = (ExceptionCode)random.Next(4),
                LineId = random.Next(2) == 0 ? null : "1",
                Payee = random.Next(2) == 0 ? null : "ines",
                Price = random.Next(2) == 0 ? null : (PriceFault)random.Next(2),
                Expected = random.Next(2) == 0 ? null : random.Next(2),
                Actual = random.Next(2) == 0 ? null : random.Next(2),
                Subject = random.Next(2) == 0 ? "" : "print",
                IsOpen = random.Next(2) == 0,
            }),
        ];
        _book.Do<BookDbContext>(db =>
        {
            using var transaction = db.Database.BeginTransaction();
            BulkWriter<OrderExceptionRecord>.Inserting(db).WriteAll(rows, alongside: false);
            var wanted = rows.Select(Says).ToArray();
            Assert.Equal(wanted, db.OrderExceptions.AsNoTracking().Where(e => e.Id > 1_000).OrderBy(e => e.Id).AsEnumerable().Select(Says));
            Assert.Equal(wanted, BulkReader<OrderExceptionRecord>.Read(db, "OrderId", [1], "Id").Where(e => e.Id > 1_000).Select(Says));
            foreach (var row in rows) (row.Expected, row.IsOpen) = (random.Next(2) == 0 ? null : random.Next(3), random.Next(2) == 0);
            BulkWriter<OrderExceptionRecord>.Updating(db, [nameof(OrderExceptionRecord.Expected), nameof(OrderExceptionRecord.IsOpen)]).WriteAll(rows, alongside: false);
            Assert.Equal(rows.Select(Says), db.OrderExceptions.AsNoTracking().Where(e => e.Id > 1_000).OrderBy(e => e.Id).AsEnumerable().Select(Says));
        });
    }

    private static string Says(InboxEventRecord e) => $"{e.Id} {e.EventId} {e.Source} {e.Kind} {e.Order} {Encoding.UTF8.GetString(e.Body)} {e.ReceivedAt.UtcTicks} {e.State} {e.Fault ?? "-"}";

    private static string Says(OrderExceptionRecord e) => $"{e.Id} {e.OrderId} {e.Period} {e.Code} {e.LineId ?? "-"} {e.Payee ?? "-"} {e.Price} {e.Expected} {e.Actual} {e.Subject} {e.IsOpen}";
}
