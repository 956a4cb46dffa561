using EvenSplit.Books.Model;
using EvenSplit.Books.Posting;

namespace EvenSplit.Books.Tests;

/// <summary>Rows that go in beside other work: all of them, none while that work has the connection, and a refusal is told once.</summary>
public sealed class WrittenAlongsideTests
{
    private readonly WrittenAlongside _alongside = new();

    [Fact]
    public void No_row_goes_in_while_something_else_is_asked_of_the_connection()
    {
        var written = 0;
        using var begun = new ManualResetEventSlim();
        _alongside.Begin(
            ["Entries"], Enumerable.Range(0, 20_000).ToArray(), _ =>
            {
                begun.Set();
                Interlocked.Increment(ref written);
            },
            () => { });
        begun.Wait(TestContext.Current.CancellationToken);
        for (var i = 0; i < 50; i++)
        {
            using (_alongside.Between())
            {
                var before = Volatile.Read(ref written);
                Thread.SpinWait(1_000);
                Assert.Equal(before, Volatile.Read(ref written));
            }
        }
        _alongside.Wait();
        Assert.Equal(20_000, written);
    }

    [Fact]
    public void What_is_refused_is_told_once_and_what_comes_after_it_is_not_written()
    {
        var (written, ended) = (0, 0);
        _alongside.Begin(["Entries"], [1, 2, 3], row => written += row == 2 ? throw new InvalidDataException("refused") : row, () => ended++);
        Assert.Throws<InvalidDataException>(_alongside.Wait);
        _alongside.Wait();
        Assert.Equal((1, 1), (written, ended));
        _alongside.Begin(["Entries"], [1], _ => throw new InvalidDataException("refused"), () => ended++);
        _alongside.GiveUp();
        _alongside.Wait();
        Assert.Equal(2, ended);
    }

    [Fact]
    public void Whoever_has_the_connection_does_not_wait_for_rows_that_wait_for_it()
    {
        using var turn = _alongside.Between();
        try
        {
            _alongside.Wait();
            Assert.Fail("It waited.");
        }
        catch (InvalidOperationException refused)
        {
            Assert.Contains("wait for this very statement", refused.Message);
        }
    }

    [Fact]
    public async Task A_statement_waits_for_the_tables_it_names_and_for_no_others()
    {
        using var goOn = new ManualResetEventSlim();
        var written = 0;
        _alongside.Begin(["Orders"], [1], row => Interlocked.Add(ref written, row), () => { });
        _alongside.Begin(
            ["Entries"], [1], row =>
            {
                goOn.Wait();
                Interlocked.Add(ref written, 10 * row);
            },
            () => { });
        _alongside.WaitFor("SELECT MAX(\"o\".\"Id\") FROM \"Orders\" AS \"o\"");
        Assert.Equal(1, Volatile.Read(ref written));
        _alongside.WaitFor("SELECT \"OrderId\" FROM \"EntriesOfOld\" JOIN Old_Entries");
        Assert.Equal(1, Volatile.Read(ref written));
        var asking = Task.Run(() => _alongside.WaitFor("select max(id) from entries"), TestContext.Current.CancellationToken);
        await Task.Delay(20, TestContext.Current.CancellationToken);
        Assert.False(asking.IsCompleted);
        goOn.Set();
        await asking;
        Assert.Equal(11, Volatile.Read(ref written));
        _alongside.Wait();
    }

    [Fact]
    public void Whoever_hands_over_faster_than_rows_go_in_waits()
    {
        using var goOn = new SemaphoreSlim(0);
        var handed = 0;
        var handing = new Thread(() =>
        {
            for (var i = 0; i < 100; i++)
            {
                _alongside.Begin(["Entries"], [i], _ => goOn.Wait(), () => { });
                Volatile.Write(ref handed, i + 1);
            }
        })
        { IsBackground = true };
        handing.Start();
        Assert.True(SpinWait.SpinUntil(() => Volatile.Read(ref handed) == 24, TimeSpan.FromSeconds(30)));
        Assert.False(handing.Join(20));
        goOn.Release(5);
        Assert.True(SpinWait.SpinUntil(() => Volatile.Read(ref handed) == 29, TimeSpan.FromSeconds(30)));
        Assert.False(handing.Join(20));
        Assert.Equal(29, handed);
        goOn.Release(95);
        handing.Join();
        _alongside.Wait();
    }

    [Fact]
    public void What_is_asked_through_EF_has_the_rows_that_were_handed_over()
    {
        using var book = new TestBook();
        book.Do<BookDbContext>(db =>
        {
            using var transaction = db.Database.BeginTransaction();
            long? found = null;
            var asking = new Thread(() => found = db.Entries.Max(e => (long?)e.Id)) { IsBackground = true };
            using (db.Alongside.Between())
            {
                BulkWriter<EntryRecord>.InsertingGuarded(db).WriteAll([new EntryRecord { Id = 17, OrderId = 1, Payee = "p", Agreement = "a", Amount = 1, Currency = "EUR", Period = 202611 }], alongside: true);
                asking.Start();
                Assert.False(asking.Join(100));
            }
            asking.Join();
            Assert.Equal(17, found);
        });
    }
}
