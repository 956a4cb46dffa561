using System.Collections.Concurrent;
using EvenSplit.Books.Checking;
using EvenSplit.Books.Journal;
using EvenSplit.Books.Model;
using EvenSplit.Books.Proofs;
using EvenSplit.Core;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace EvenSplit.Books.Tests;

/// <summary>Writers are let in one at a time and in the order in which they came, however a transaction ends.</summary>
public sealed class WriterQueueTests : IDisposable
{
    private readonly TestBook _book = new();

    public void Dispose() => _book.Dispose();

    [Fact]
    public async Task Whoever_came_first_writes_first()
    {
        var queue = new WriterQueue();
        var order = new ConcurrentQueue<int>();
        queue.Enter();
        var writers = new List<Task>();
        for (var i = 0; i < 5; i++)
        {
            var number = i;
            writers.Add(Task.Factory.StartNew(() => Write(number), TestContext.Current.CancellationToken, TaskCreationOptions.LongRunning, TaskScheduler.Default));
            while (queue.Waiting < i + 1) await Task.Delay(1, TestContext.Current.CancellationToken);
        }
        queue.Leave();
        await Task.WhenAll(writers);
        Assert.Equal([0, 1, 2, 3, 4], order);
        Assert.Equal(0, queue.Waiting);

        void Write(int number)
        {
            queue.Enter();
            order.Enqueue(number);
            queue.Leave();
        }
    }

    /// <summary>Committed, rolled back, left without a word, or refused: the next one gets in.</summary>
    [Fact]
    public void A_turn_ends_however_its_transaction_does()
    {
        _book.Do<BookDbContext>(db =>
        {
            using (var committed = db.Database.BeginTransaction()) committed.Commit();
            using (var undone = db.Database.BeginTransaction()) undone.Rollback();
            using (db.Database.BeginTransaction())
            {
                // Left as it is.
            }
            Assert.ThrowsAny<Exception>(() => db.Database.ExecuteSqlRaw("DELETE FROM NoSuchTable"));
            db.Book.ExecuteUpdate(set => set.SetProperty(b => b.Name, "Renamed"));
            db.Audit.Add(new AuditRecord { At = DateTimeOffset.UnixEpoch, By = "Lena", Action = "try", Subject = "turns" });
            db.SaveChanges();
        });
        Assert.Equal("Renamed", _book.Get<BookDbContext, string>(db => db.Book.Single().Name));
        Assert.False(_book.Get<WriterQueue, bool>(q => q.IsTaken));
    }

    /// <summary>Its connection may stay open: somebody else has opened it.</summary>
    [Fact]
    public void A_turn_ends_with_a_transaction_that_is_left_on_an_open_connection()
    {
        _book.Do<BookDbContext>(db =>
        {
            db.Database.OpenConnection();
            Assert.Throws<RefusedException>(() => Refused(db));
            Assert.Equal(System.Data.ConnectionState.Open, db.Database.GetDbConnection().State);
            Assert.False(_book.Get<WriterQueue, bool>(q => q.IsTaken));
            db.Database.CloseConnection();
        });

        static void Refused(BookDbContext db)
        {
            using var transaction = db.Database.BeginTransaction();
            throw new RefusedException("No.");
        }
    }

    [Fact]
    public void A_turn_ends_where_another_process_writes_and_a_transaction_cannot_begin()
    {
        _book.Do<BookDbContext>(db =>
        {
            var connection = (SqliteConnection)db.Database.GetDbConnection();
            using (var other = new SqliteConnection(connection.ConnectionString))
            {
                other.Open();
                using var writing = other.BeginTransaction();
                connection.DefaultTimeout = 1;
                Assert.Throws<SqliteException>(() => db.Database.BeginTransaction());
            }
            Assert.False(_book.Get<WriterQueue, bool>(q => q.IsTaken));
            using var now = db.Database.BeginTransaction();
            now.Commit();
        });
        Assert.False(_book.Get<WriterQueue, bool>(q => q.IsTaken));
    }

    /// <summary>One that stayed open would be handed on to the next request with its context.</summary>
    [Fact]
    public void What_reads_one_state_of_the_book_leaves_its_connection_closed()
    {
        _book.ImportOrders(TestBook.Row("S-1", code: "ANNA"), TestBook.Row("S-2", code: "ANNA"));
        _book.Do<IServiceProvider>(services =>
        {
            var connection = services.GetRequiredService<BookDbContext>().Database.GetDbConnection();
            services.GetRequiredService<BookCheck>().Run();
            Assert.Equal(System.Data.ConnectionState.Closed, connection.State);
            Assert.NotNull(services.GetRequiredService<BookJournal>().Between(new DateOnly(2026, 10, 1), new DateOnly(2026, 10, 31)).First());
            Assert.Equal(System.Data.ConnectionState.Closed, connection.State);
            services.GetRequiredService<MonthProof>().Of(new Period(202610));
            Assert.Equal(System.Data.ConnectionState.Closed, connection.State);
        });
    }

    [Fact]
    public async Task Many_who_write_at_once_all_get_through()
    {
        await Task.WhenAll(Enumerable.Range(0, 8).Select(i => Task.Run(() =>
        {
            for (var n = 0; n < 10; n++)
            {
                _book.Do<BookDbContext>(db =>
                {
                    db.Audit.Add(new AuditRecord { At = DateTimeOffset.UnixEpoch, By = "Lena", Action = "write", Subject = $"{i} {n}" });
                    db.SaveChanges();
                });
            }
        }, TestContext.Current.CancellationToken)));
        Assert.Equal(80, _book.Get<BookDbContext, int>(db => db.Audit.Count(a => a.Action == "write")));
    }
}
