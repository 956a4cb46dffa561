using System.Buffers.Binary;
using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Posting;

/// <summary>Orders and refunds between the core's types and the book's rows.</summary>
internal static class OrderFacts
{
    public static OrderRecord ToRecord(Order order, BookTime time)
    {
        var record = Fill(new OrderRecord { OrderId = order.Id.Value, Channel = order.Channel.Value, Currency = order.Currency.Code }, order, time);
        record.SignedOffAt = order.SignedOffAt;
        record.Clicks = order.Clicks.Select((c, i) => new OrderClickRecord { Position = i, Payee = c.Payee.Value, At = c.At }).ToList();
        return record;
    }

    /// <summary>An order with all that <see cref="ToOrder"/> reads.</summary>
    public static IQueryable<OrderRecord> WithParts(this IQueryable<OrderRecord> orders) =>
        orders.Include(o => o.Lines).Include(o => o.Codes).Include(o => o.Clicks).AsSplitQuery();

    /// <summary>Puts what a shop reports in the place of what it reported before.</summary>
    public static OrderRecord Fill(OrderRecord record, Order order, BookTime time)
    {
        record.Channel = order.Channel.Value;
        record.Currency = order.Currency.Code;
        record.PlacedAt = order.PlacedAt;
        record.PaidAt = order.PaidAt;
        record.Period = Period.Of(time.DateOf(order.PaidAt ?? order.PlacedAt)).Number;
        record.Processor = order.Processor?.Value;
        record.IsTest = order.IsTest;
        record.TestSince = order.IsTest ? record.TestSince ?? TimeProvider.System.GetUtcNow() : null;
        record.PricesIncludeTax = order.PricesIncludeTax;
        record.Customer = order.Customer;
        record.CustomerKey = order.CustomerKey;
        record.Origin = order.Origin?.Value;
        record.Discount = order.Discount;
        record.Shipping = order.Shipping;
        record.ShippingTax = order.ShippingTax;
        // What was set by hand stays where the shop says nothing of it.
        record.ActualProcessingFee = order.ProcessingFee ?? record.ActualProcessingFee;
        record.ActualChannelFee = order.ChannelFee ?? record.ActualChannelFee;
        record.ActualRebate = order.Rebate ?? record.ActualRebate;
        record.ManualPayee = order.ManualPayee?.Value ?? record.ManualPayee;
        record.Codes = order.Codes.Select((c, i) => new OrderCodeRecord { OrderId = record.Id, Position = i, Code = c }).ToList();
        record.FactsHash = HashOf(order);
        FillLines(record, order);
        return record;
    }

    /// <summary>A line is the same as long as its id and what it sells are; what is posted for any other stays with the line as it was.</summary>
    private static void FillLines(OrderRecord record, Order order)
    {
        foreach (var held in record.Lines) held.Position = null;
        for (var i = 0; i < order.Lines.Count; i++)
        {
            var line = order.Lines[i];
            var known = record.Lines.Find(l => l.LineId == line.Id.Value && l.Product == line.Product.Value && l.Variant == line.Variant?.Value);
            if (known is null)
            {
                known = new OrderLineRecord { OrderId = record.Id, Number = record.Lines.Count, LineId = line.Id.Value, Product = line.Product.Value, Variant = line.Variant?.Value };
                record.Lines.Add(known);
            }
            known.Position = i;
            known.Quantity = line.Quantity;
            known.UnitPrice = line.UnitPrice;
            known.Discount = line.Discount;
            known.Tax = line.Tax;
            known.RequiresShipping = line.RequiresShipping;
            known.PaymentNumber = line.PaymentNumber;
        }
    }

    public static Order ToOrder(OrderRecord record) => new()
    {
        Id = new OrderId(record.OrderId),
        Channel = new ChannelId(record.Channel),
        Currency = Currency.Of(record.Currency),
        PlacedAt = record.PlacedAt,
        PaidAt = record.PaidAt,
        Processor = record.Processor is { } processor ? new ProcessorId(processor) : null,
        IsTest = record.IsTest,
        PricesIncludeTax = record.PricesIncludeTax,
        Customer = record.Customer,
        CustomerKey = record.CustomerKey,
        Origin = record.Origin is { } origin ? new OrderId(origin) : null,
        Discount = record.Discount,
        Shipping = record.Shipping,
        ShippingTax = record.ShippingTax,
        ProcessingFee = record.ActualProcessingFee,
        ChannelFee = record.ActualChannelFee,
        Rebate = record.ActualRebate,
        ManualPayee = record.ManualPayee is { } payee ? new PayeeId(payee) : null,
        SignedOffAt = record.SignedOffAt,
        Codes = record.Codes.OrderBy(c => c.Position).Select(c => c.Code).ToArray(),
        Clicks = record.Clicks.OrderBy(c => c.Position).Select(c => new Click(new PayeeId(c.Payee), c.At)).ToArray(),
        Lines = record.CurrentLines.Select(l => new OrderLine
        {
            Id = new LineId(l.LineId),
            Product = new ProductId(l.Product),
            Variant = l.Variant is { } variant ? new VariantId(variant) : null,
            Quantity = l.Quantity,
            UnitPrice = l.UnitPrice,
            Discount = l.Discount,
            Tax = l.Tax,
            RequiresShipping = l.RequiresShipping,
            PaymentNumber = l.PaymentNumber,
        }).ToArray(),
    };

    /// <param name="key">0 where the database gives it.</param>
    public static RefundRecord ToRecord(Refund refund, long key, long orderKey) => new()
    {
        Id = key,
        RefundId = refund.Id.Value,
        OrderId = orderKey,
        At = refund.At,
        Kind = refund.Kind,
        Shipping = refund.Shipping,
        ShippingTax = refund.ShippingTax,
        ProcessingFeeReturned = refund.ProcessingFeeReturned,
        DisputeFee = refund.DisputeFee,
        FactsHash = HashOf(refund),
        Lines = refund.Lines.Select((l, i) => new RefundLineRecord
        {
            RefundId = key,
            Position = i,
            LineId = l.Line.Value,
            Quantity = l.Quantity,
            Goods = l.Goods,
            Tax = l.Tax,
        }).ToList(),
    };

    public static Refund ToRefund(RefundRecord record, OrderId order) => new()
    {
        Id = new RefundId(record.RefundId),
        Order = order,
        At = record.At,
        Kind = record.Kind,
        Shipping = record.Shipping,
        ShippingTax = record.ShippingTax,
        ProcessingFeeReturned = record.ProcessingFeeReturned,
        DisputeFee = record.DisputeFee,
        Lines = record.Lines.OrderBy(l => l.Position).Select(l => new RefundLine(new LineId(l.LineId), l.Quantity, l.Goods, l.Tax)).ToArray(),
    };

    /// <summary>
    /// A fingerprint of what a shop reports of an order: two reports are the same when it is. Clicks and sign-offs come in at other doors.
    /// </summary>
    public static long HashOf(Order order) => Fingerprint(OrderColumns.All.Facts(order, order.Lines));

    private static long HashOf(Refund refund) => Fingerprint(RefundColumns.All.Facts(refund, refund.Lines));

    private static long Fingerprint(IEnumerable<object?> facts)
    {
        var text = new StringBuilder(512);
        foreach (var fact in facts) text.Append(CultureInfo.InvariantCulture, $"{fact}\u001f");
        return BinaryPrimitives.ReadInt64LittleEndian(SHA256.HashData(Encoding.UTF8.GetBytes(text.ToString())));
    }
}
