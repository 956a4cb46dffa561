namespace EvenSplit.Core.Tests;

/// <summary>Many exceptions are sorted by the beginnings of their ids first: they must come out as if by all they are.</summary>
public sealed class ExceptionsInOrderTests
{
    private static readonly string[] Pieces = ["", "a", "b", "0", "1", "9", "-", "é", "\u07FF", "\uD7FF", "\uE000", "\uFFFD", "\U0001F331", "\U0010FFFF"];

    [Theory]
    [InlineData(1, 900, "")]
    [InlineData(2, 5_000, "")]
    [InlineData(3, 5_000, "order-2026-")]
    [InlineData(4, 5_000, "\U0001F331")]
    public void Each_is_listed_once_by_code_order_line_and_payee(int seed, int count, string beginning)
    {
        var random = new Random(seed);
        var exceptions = Enumerable.Range(0, count).Select(_ => new CalculationException(
            (ExceptionCode)random.Next(0, 6),
            random.Next(20) == 0 ? null : new OrderId(beginning + "o" + Id(random, 9)),
            random.Next(2) == 0 ? null : new LineId("l" + Id(random, 1)),
            random.Next(2) == 0 ? null : new PayeeId("p" + Id(random, 1)))).ToArray();

        var expected = exceptions.Distinct()
            .OrderBy(e => e.Code)
            .ThenBy(e => e.Order?.Value ?? "", IdOrder.Comparer)
            .ThenBy(e => e.Line?.Value ?? "", IdOrder.Comparer)
            .ThenBy(e => e.Payee?.Value ?? "", IdOrder.Comparer);
        Assert.Equal(expected, CalculationException.Listed(exceptions));
    }

    private static string Id(Random random, int pieces) => string.Concat(Enumerable.Range(0, pieces).Select(_ => Pieces[random.Next(Pieces.Length)]));
}
