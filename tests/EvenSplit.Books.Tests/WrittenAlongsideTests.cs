using EvenSplit.Books.Model;

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
            Enumerable.Range(0, 20_000).ToArray(), _ =>
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
        _alongside.Begin([1, 2, 3], row => written += row == 2 ? throw new InvalidDataException("refused") : row, () => ended++);
        Assert.Throws<InvalidDataException>(_alongside.Wait);
        _alongside.Wait();
        Assert.Equal((1, 1), (written, ended));
        _alongside.Begin([1], _ => throw new InvalidDataException("refused"), () => ended++);
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
}
