using EvenSplit.Books.Importing;

namespace EvenSplit.Books.Tests;

/// <summary>What is read ahead of its use: all of it in its order, no more than asked, and its fault at its place.</summary>
public sealed class ReadAheadTests
{
    [Fact]
    public void All_of_a_stream_comes_in_its_order() =>
        Assert.Equal(Enumerable.Range(0, 5_000), Enumerable.Range(0, 5_000).ReadAhead(7));

    [Fact]
    public void A_fault_is_told_after_what_came_before_it()
    {
        var came = new List<int>();
        Assert.Throws<InvalidDataException>(() =>
        {
            foreach (var one in Until(20).ReadAhead(3)) came.Add(one);
        });
        Assert.Equal(Enumerable.Range(0, 20), came);

        static IEnumerable<int> Until(int fault)
        {
            for (var i = 0; i < fault; i++) yield return i;
            throw new InvalidDataException("the rest cannot be read");
        }
    }

    [Fact]
    public void Nothing_is_read_any_more_once_nobody_asks()
    {
        var (read, closed) = (0, false);
        Assert.Equal([0, 1], Endless().ReadAhead(5).Take(2));
        Assert.True(closed);
        Assert.InRange(read, 2, 9);

        IEnumerable<int> Endless()
        {
            try
            {
                while (true) yield return read++;
            }
            finally
            {
                closed = true;
            }
        }
    }
}
