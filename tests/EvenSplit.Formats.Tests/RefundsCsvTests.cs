using System.Text;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;

namespace EvenSplit.Formats.Tests;

public sealed class RefundsCsvTests
{
    private static readonly Order Held = new()
    {
        Id = new OrderId("A"),
        Channel = new ChannelId("shop"),
        Currency = Currency.Of("EUR"),
        PlacedAt = default,
        Lines = [new OrderLine { Id = new LineId("1"), Product = new ProductId("guide"), Quantity = 2, UnitPrice = 2400 }],
    };

    private static RowGroup<Refund> Read(string row)
    {
        const string header = "refund_id,order_id,at,kind,line_id,quantity,goods,tax,shipping,dispute_fee";
        using var table = new CsvTable(new MemoryStream(Encoding.UTF8.GetBytes($"{header}\n{row}\n")), RefundsCsv.Columns);
        return RefundsCsv.Read(table.Rows(), BookTime.Of("UTC"), id => id == Held.Id ? Held : null).Single();
    }

    [Fact]
    public void Reads_a_refunded_line_and_the_dispute_fee()
    {
        var refund = Read("R,A,2026-10-03T12:00:00Z,chargeback,1,1,24.00,0,,15.00").Value!;
        Assert.Equal((RefundKind.Chargeback, 1500L), (refund.Kind, refund.DisputeFee));
        Assert.Equal(new RefundLine(new LineId("1"), 1, 2400, 0), Assert.Single(refund.Lines));
    }

    [Theory]
    [InlineData("R,B,2026-10-03T12:00:00Z,refund,1,1,24.00,0,,", "order_id")]
    [InlineData("R,A,2026-10-03T12:00:00Z,refund,9,1,24.00,0,,", "line_id")]
    [InlineData("R,A,2026-10-03T12:00:00Z,gift,1,1,24.00,0,,", "kind")]
    [InlineData("R,A,2026-10-03T12:00:00Z,refund,1,-1,24.00,0,,", "quantity")]
    [InlineData("R,A,2026-10-03T12:00:00Z,refund,,1,24.00,0,,", "line_id")]
    public void What_cannot_be_is_a_fault(string row, string column) => Assert.Equal(column, Assert.Single(Read(row).Faults).Column);
}
